#pragma once
// Approximate nearest source patch for each patch over a hole.

#include <cstdint>
#include <vector>

#include "core/base/executor.h"
#include "core/image/raster.h"

namespace hseam::repair {

inline constexpr int kPatchHalf = 3, kPatchSide = 2 * kPatchHalf + 1;

using Bits = image::Raster<std::uint8_t>;

/// The search on one level. Patches are identified by their centre.
struct Search {
  image::Raster<std::uint8_t> look;      // 3 channels
  std::vector<std::int32_t> targets;     // middles of patches that touch the hole
  Bits isTarget, isSource;               // whether a place is a target, or a source
  std::vector<std::int32_t> sources;     // all that may be taken
  image::Raster<std::int32_t> nearest;   // of each target: the source that is most like it
  image::Raster<std::int32_t> distance;  // of each target: sum of squared differences, of 0..255, over the patch and its channels
};

/// The 8-bit values that are compared, from colours 0..1, 3 channels.
image::Raster<std::uint8_t> lookOf(const image::Raster<float>& colours);
/// Targets and sources for a hole; `nearest` is not set.
Search searchFor(const image::Raster<float>& colours, const Bits& hole, const Bits& source);
/// Random initial guesses where `nearest` is −1 or not a source.
void guess(Search& s, std::uint32_t seed);
/// Computes all distances again, after `look` has changed.
void measure(Search& s, base::Executor& executor);
/// One round of propagation and random search (Barnes et al. 2009) over bands of rows.
void improve(Search& s, int round, std::uint32_t seed, base::Executor& executor);

}  // namespace hseam::repair
