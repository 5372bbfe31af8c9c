#pragma once
// What lies on both sides of a seam. Where a surface goes on across it, the two sides should be alike, and what differs is the
// fault itself: far finer than comparing a subject as a whole with its surroundings.

#include <array>
#include <vector>

#include "core/measure/outline.h"

namespace hseam::measure {

/// Means of encoded colours 3 to 9 px inside of a place of the outline and as far outside of it.
struct SeamPairs {
  std::vector<std::array<float, 3>> inside, outside;
  /// Correlation of lightness across the seam along it, −1..1: near 1 where surfaces go on. Exposure, lifted blacks and casts
  /// leave it.
  double likeness = 0;
};
SeamPairs pairsAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                      const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
