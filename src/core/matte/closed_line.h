#pragma once
// Closed lines as evenly spaced points, for sources of this folder.

#include <vector>

#include "core/base/geometry.h"

namespace hseam::matte {

/// About a px apart; `length`: of the polygon p, px. At least 8 points.
std::vector<base::Point> resampled(const std::vector<base::Point>& p, double length);
/// A Gaussian along the line, sigma in points, on its coordinates: corners are rounded.
std::vector<base::Point> smoothed(const std::vector<base::Point>& p, double sigma);

}  // namespace hseam::matte
