#pragma once
// Colours on both sides of a seam. Where a surface continues across it the two sides should be equal, so their difference
// measures the fault: much finer than comparing whole subject and surroundings.

#include <array>
#include <vector>

#include "core/measure/outline.h"

namespace hseam::measure {

/// Means of encoded colours 3 to 9 px inside of a place of the outline and as far outside of it.
struct SeamPairs {
  std::vector<std::array<float, 3>> inside, outside;
  /// Correlation of lightness inside and outside along the seam, −1..1: near 1 where surfaces continue. Unaffected by exposure,
  /// lifted blacks and casts.
  double likeness = 0;
};
SeamPairs pairsAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                      const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
