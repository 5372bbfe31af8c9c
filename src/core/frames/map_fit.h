#pragma once
// Robust fit of a map to pairs of places.

#include <vector>

#include "core/frames/homography.h"

namespace hseam::frames {

struct Pair {
  base::Point from, to;
  double sigma = 1;  // px of `to`
};

struct MapFit {
  Homography map;             // from → to
  std::vector<double> offPx;  // of each pair
  std::vector<char> fits;     // whether it is an inlier
};

enum class MapModel { similarity, homography };

/// Iteratively reweighted least squares with Tukey's biweight, from `start`. Pairs further off than reachPx are left out at
/// first. With fewer than 6 pairs returns `start`.
MapFit fitMap(const std::vector<Pair>& pairs, const Homography& start, MapModel model, double reachPx);
/// A similarity, unless a homography fits significantly better (F test).
MapFit fitMap(const std::vector<Pair>& pairs, const Homography& start, double reachPx);

}  // namespace hseam::frames
