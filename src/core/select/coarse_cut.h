#pragma once
// A min-cut on one coarse level of a picture.

#include <opencv2/core.hpp>

#include "core/base/progress.h"

namespace hseam::select {

/// Label of a pixel before and after the cut; likely ones stay likely.
enum CutLabel : std::uint8_t { kSurelyBackground = 0, kSurelySubject = 1, kLikelyBackground = 2, kLikelySubject = 3 };

/// Min-cut on colour mixtures that are learnt anew each round (Rother, Kolmogorov, Blake 2004, from OpenCV): all rounds but the
/// last at half the size, the last at full size within 5 px of the outline found there. rgb: CV_8UC3, encoded sRGB; labels: CV_8U
/// of its size. Gives CV_8U, 255 or 0. Errors: invalid (one side is nowhere, or cannot be told from the other), cancelled.
base::Result<cv::Mat> coarseCut(const cv::Mat& rgb, cv::Mat labels, int rounds, const base::Progress& progress);

/// Removes islands far smaller than the largest piece, unless `labels` has a surely-subject pixel in them.
void dropSpecks(cv::Mat& subject, const cv::Mat& labels);

}  // namespace hseam::select
