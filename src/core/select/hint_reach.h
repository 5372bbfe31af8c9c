#pragma once
// The region of a hint stroke, up to the picture's edges.

#include <opencv2/core.hpp>

namespace hseam::select {

/// The strokes' regions, CV_8U: 255 of the subject's, 1 of the background's, 0 of neither. By geodesic distance (Bai, Sapiro
/// 2007) of L*a*b* differences plus length: smooth surfaces are taken whole, edges stop it, and the nearer of two strokes wins.
/// lab: CV_32FC3, L*a*b*; hints: CV_8U, kHintSubject, kHintBackground or kHintNothing.
cv::Mat hintReach(const cv::Mat& lab, const cv::Mat& hints);

}  // namespace hseam::select
