#pragma once
// Which patch of the source looks most like each patch over a hole.

#include <cstdint>
#include <vector>

#include "core/base/executor.h"
#include "core/image/raster.h"

namespace hseam::repair {

inline constexpr int kPatchHalf = 3, kPatchSide = 2 * kPatchHalf + 1;

using Bits = image::Raster<std::uint8_t>;

/// Where to look, on one level. Patches are named by their middle.
struct Search {
  image::Raster<std::uint8_t> look;      // 3 channels
  std::vector<std::int32_t> targets;     // middles of patches that touch the hole
  Bits isTarget, isSource;               // of each place: is it such a middle, or one that may be taken
  std::vector<std::int32_t> sources;     // all that may be taken
  image::Raster<std::int32_t> nearest;   // of each target: the source that is most like it
  image::Raster<std::int32_t> distance;  // of each target: sum of squared differences, of 0..255, over the patch and its channels
};

/// What is compared: colours 0..1, 3 channels.
image::Raster<std::uint8_t> lookOf(const image::Raster<float>& colours);
/// Targets and sources for a hole; `nearest` is not set.
Search searchFor(const image::Raster<float>& colours, const Bits& hole, const Bits& source);
/// The first guess where `nearest` says none (−1) or no source.
void guess(Search& s, std::uint32_t seed);
/// Distances anew, after the looks have changed.
void measure(Search& s, base::Executor& executor);
/// One round of propagation and random search (Barnes et al. 2009) over bands of rows.
void improve(Search& s, int round, std::uint32_t seed, base::Executor& executor);

}  // namespace hseam::repair
