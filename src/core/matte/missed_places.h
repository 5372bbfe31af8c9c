#pragma once

#include <opencv2/core.hpp>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::matte {

/// Finds places where a strip does not contain the edge: both of its sides look alike over some length (means and deviations of
/// nearby colours). strip: CV_8U labels (trimap.h); alpha: CV_32F, solved in it; colours: CV_32FC3, encoded 0..1; all of one
/// size. The largest place first, at most eight.
std::vector<base::Rect> missedPlaces(const cv::Mat& strip, const cv::Mat& alpha, const cv::Mat& colours);

}  // namespace hseam::matte
