#pragma once
// One cubic through many points.

#include <optional>
#include <span>
#include <vector>

#include "core/path/path.h"

namespace hseam::path {

/// deviation: the largest distance of a point from the curve, or of the curve from the points between, px.
struct Fitted {
  Cubic cubic;
  double deviation = 0;
};

/// What is known of a curve's ends: the direction in which it leaves or comes back, or nothing (at a corner any will do).
struct Ends {
  std::optional<base::Point> leaving, arriving;
};

/// Least squares with reparametrisation (Schneider 1990). goodEnough 0: as close as it gets; else it stops there, or when it sees
/// that it will not come near.
Fitted fitCubic(std::span<const base::Point> p, const Ends& ends, double goodEnough);
/// t: where the points are along the curve, 0..1, to begin with.
Fitted fitCubic(std::span<const base::Point> p, const Ends& ends, double goodEnough, std::vector<double> t);

}  // namespace hseam::path
