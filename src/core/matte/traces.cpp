#include "core/matte/traces.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/matte/trimap.h"

namespace hseam::matte {

void pressTraces(image::Raster<float>& alpha, const image::Raster<std::uint8_t>& band) {
  constexpr int kSurroundings = 31;                        // px
  constexpr float kClearly = 0.2f;                         // away from 0 and 1
  constexpr float kMostPressed = 0.15f, kLeast = 0.02f;    // of alpha
  constexpr float kPlain = 0.15f, kStrands = 0.40f;        // of the undecided surroundings that is clearly fractional
  const cv::Mat a(alpha.height(), alpha.width(), CV_32F, alpha.row(0)),
      labels(band.height(), band.width(), CV_8U, const_cast<std::uint8_t*>(band.row(0)));
  const cv::Mat undecided = (labels != kSubject) & (labels != kBackground);
  cv::Mat all, fractional;
  cv::boxFilter(undecided, all, CV_32F, cv::Size(kSurroundings, kSurroundings));
  cv::boxFilter((a > kClearly) & (a < 1 - kClearly) & undecided, fractional, CV_32F, cv::Size(kSurroundings, kSurroundings));
  for (int y = 0; y < a.rows; ++y) {
    for (int x = 0; x < a.cols; ++x) {
      if (!undecided.at<std::uint8_t>(y, x)) continue;
      const float share = fractional.at<float>(y, x) / std::max(1.f, all.at<float>(y, x));
      const float strands = std::clamp((share - kPlain) / (kStrands - kPlain), 0.f, 1.f);
      const float low = kMostPressed + strands * (kLeast - kMostPressed);
      float& v = *alpha.at(x, y);
      v = std::clamp((v - low) / (1 - 2 * low), 0.f, 1.f);
    }
  }
}

}  // namespace hseam::matte
