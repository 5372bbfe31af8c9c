#include "core/matte/thick_middles.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::matte {

cv::Mat thickMiddles(const cv::Mat& depth, float half) {
  constexpr float kThinnest = 5;  // px of depth; thinner parts may be strands
  const int reach = std::min(int(std::ceil(half)), 60);
  cv::Mat deepest, found(depth.size(), CV_8U);
  cv::dilate(depth, deepest, cv::getStructuringElement(cv::MORPH_RECT, cv::Size(2 * reach + 1, 2 * reach + 1)));
  for (int y = 0; y < depth.rows; ++y) {
    for (int x = 0; x < depth.cols; ++x) {
      const float d = depth.at<float>(y, x);
      found.at<std::uint8_t>(y, x) = d >= kThinnest && d >= 0.75f * deepest.at<float>(y, x);
    }
  }
  return found;
}

}  // namespace hseam::matte
