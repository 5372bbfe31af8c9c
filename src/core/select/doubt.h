#pragma once

#include <opencv2/core.hpp>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::select {

/// Agreement between a cut and its prior.
struct Agreement {
  double confidence = 0;             // 0..1
  std::vector<base::Rect> doubtful;  // places where they disagree or the prior is uncertain, the largest first; at most eight
};
/// prior: CV_32F 0..1; subject: CV_8U, 255 or 0, of its size. Boxes are in its px.
Agreement agreementOf(const cv::Mat& prior, const cv::Mat& subject);

}  // namespace hseam::select
