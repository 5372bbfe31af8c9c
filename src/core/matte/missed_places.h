#pragma once

#include <opencv2/core.hpp>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::matte {

/// Where a strip does not hold the edge: for a good while both of its sides look alike (means and spreads of their colours near
/// by), so that the half-way line of what was solved between them has nothing to run along. strip: CV_8U labels (trimap.h);
/// alpha: CV_32F, solved in it; colours: CV_32FC3, encoded 0..1; all of one size. The largest place first, at most eight.
std::vector<base::Rect> missedPlaces(const cv::Mat& strip, const cv::Mat& alpha, const cv::Mat& colours);

}  // namespace hseam::matte
