#pragma once

#include <opencv2/core.hpp>

namespace hseam::matte {

/// The middles of parts that are thinner than the band but too thick to be strands (a staff, a finger), to be kept as known
/// subject. A pixel is in the middle if it lies at least 5 px deep and no pixel within `half` px (60 at the most) lies much
/// deeper. depth: CV_32F, px to the next pixel outside the subject; half: half the band's width in px. CV_8U, not 0 in the
/// middle.
cv::Mat thickMiddles(const cv::Mat& depth, float half);

}  // namespace hseam::matte
