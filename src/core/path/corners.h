#pragma once
// Where a polygon of many points turns, and where it has corners.

#include <span>
#include <vector>

#include "core/base/geometry.h"

namespace hseam::path {

/// The direction at point i of a closed polygon, from what lies within about `reach` px on the given side (0: both).
base::Point direction(std::span<const base::Point> p, std::ptrdiff_t i, double reach, int side);
/// Indices of the corners of a closed polygon that turn by more than about cornerDeg, ascending.
std::vector<std::size_t> cornersOf(std::span<const base::Point> p, double cornerDeg);
/// Where the sides of a corner would meet: pixels have rounded it off. Lines through what lies 2 to 9 px to each side.
base::Point cornerPoint(std::span<const base::Point> p, std::size_t i);

}  // namespace hseam::path
