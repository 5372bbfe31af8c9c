#pragma once
// The map that pairs of places agree on.

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
  std::vector<char> fits;     // which of them counted
};

enum class MapModel { similarity, homography };

/// Least squares over what agrees (iteratively reweighted, Tukey's biweight), beginning with `start`: pairs that are off by more
/// than `reachPx` there do not count at first. Fewer than 6 pairs: `start` itself.
MapFit fitMap(const std::vector<Pair>& pairs, const Homography& start, MapModel model, double reachPx);
/// A similarity unless a homography explains the pairs clearly better (by an F test).
MapFit fitMap(const std::vector<Pair>& pairs, const Homography& start, double reachPx);

}  // namespace hseam::frames
