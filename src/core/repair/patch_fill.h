#pragma once
// The fill of one hole in plain pixels; fill.h says how.

#include <cstdint>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/raster.h"

namespace hseam::repair {

/// Fills `colours` (3 channels, encoded 0..1) where `hole` is 1, from patches that lie wholly where `source` is 1. The same for
/// any number of threads. taken (may be null): for each pixel of the hole the index of its source pixel. False: there is no
/// source patch, and nothing was changed. Errors: cancelled.
base::Result<bool> fillPatches(image::Raster<float>& colours, const image::Raster<std::uint8_t>& hole,
                               const image::Raster<std::uint8_t>& source, std::uint32_t seed, base::Executor& executor,
                               const base::Progress& progress, image::Raster<std::int32_t>* taken = nullptr);

}  // namespace hseam::repair
