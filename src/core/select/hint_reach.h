#pragma once
// How far a hint stroke reaches: over what it runs along, up to the picture's edges.

#include <opencv2/core.hpp>

namespace hseam::select {

/// What the strokes take, CV_8U: 255 for the subject's, 1 for the background's, 0 for what neither reaches. Geodesic distance
/// (Bai, Sapiro 2007), here of L*a*b* differences along the way with a price for the length: smooth surfaces are taken whole, an
/// edge stops it, and the nearer of two strokes wins. lab: CV_32FC3, L*a*b*; hints: CV_8U, kHintSubject, kHintBackground or
/// kHintNothing.
cv::Mat hintReach(const cv::Mat& lab, const cv::Mat& hints);

}  // namespace hseam::select
