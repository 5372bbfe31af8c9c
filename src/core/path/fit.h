#pragma once
// Curves through many points, with few nodes.

#include <span>

#include "core/path/path.h"

namespace hseam::path {

struct Fit {
  Outline outline;
  double deviationPx = 0;  // the largest distance of a given point from the curve
};

/// A closed outline that passes every given point (a closed polygon, about a px apart) within tolerancePx. Corners are found
/// where the direction turns by more than cornerDeg within about 5 px and hardly more within 10, and set where their sides meet:
/// points within 1.6 px of a corner are taken for rounded off by pixels. Between corners each cubic is a least squares fit with
/// reparametrisation (Schneider 1990, "An algorithm for automatically fitting digitized curves"); which places it reaches within
/// the tolerance is found for all of them, and the fewest cubics follow as a shortest way. Cost: about 0.1 s for 1000 points.
Fit fitted(std::span<const base::Point> polygon, double tolerancePx, double cornerDeg = 18);

/// The same for an outline that exists: its own corners stay. Never more nodes than before: then it is returned as it is.
Fit refitted(const Outline& outline, double tolerancePx);

/// Takes a node out and bends its neighbours' handles so that the curve changes least. An outline of two nodes loses a side.
Outline without(const Outline& outline, int node);

}  // namespace hseam::path
