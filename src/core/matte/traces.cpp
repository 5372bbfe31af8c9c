#include "core/matte/traces.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/matte/trimap.h"

namespace hseam::matte {

void pressTraces(image::Raster<float>& alpha, const image::Raster<std::uint8_t>& band, const image::Raster<float>& certainty) {
  constexpr int kSurroundings = 31;                      // px
  constexpr float kClearly = 0.2f;                       // away from 0 and 1
  constexpr float kMostPressed = 0.15f, kLeast = 0.02f;  // of alpha
  constexpr float kSure = 0.7f;                          // mean certainty from which on nothing is pressed
  constexpr float kPlain = 0.15f, kStrands = 0.40f;      // of the undecided surroundings that is clearly fractional
  const cv::Mat a(alpha.height(), alpha.width(), CV_32F, alpha.row(0)),
      labels(band.height(), band.width(), CV_8U, const_cast<std::uint8_t*>(band.row(0)));
  const cv::Mat undecided = (labels != kSubject) & (labels != kBackground);
  cv::Mat all, fractional, sure;
  cv::boxFilter(cv::Mat(certainty.height(), certainty.width(), CV_32F, const_cast<float*>(certainty.row(0))), sure, CV_32F,
                cv::Size(kSurroundings, kSurroundings));
  cv::boxFilter(undecided, all, CV_32F, cv::Size(kSurroundings, kSurroundings));
  cv::boxFilter((a > kClearly) & (a < 1 - kClearly) & undecided, fractional, CV_32F, cv::Size(kSurroundings, kSurroundings));
  for (int y = 0; y < a.rows; ++y) {
    for (int x = 0; x < a.cols; ++x) {
      if (!undecided.at<std::uint8_t>(y, x)) continue;
      const float share = fractional.at<float>(y, x) / std::max(1.f, all.at<float>(y, x));
      const float strands = std::clamp((share - kPlain) / (kStrands - kPlain), 0.f, 1.f);
      const float unsure =
          std::clamp((kSure - 255 * sure.at<float>(y, x) / std::max(1.f, all.at<float>(y, x))) / kSure, 0.f, 1.f);
      const float low = unsure * (kMostPressed + strands * (kLeast - kMostPressed));
      float& v = *alpha.at(x, y);
      v = std::clamp((v - low) / (1 - 2 * low), 0.f, 1.f);
    }
  }
}

}  // namespace hseam::matte
