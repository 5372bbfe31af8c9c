#pragma once
// Larger pieces instead of many small ones: the hole is composed of the picture under a few shifts, the most frequent among
// patches (He and Sun 2012), with seams by graph cut.

#include "core/frames/seam.h"
#include "core/repair/patch_search.h"

namespace hseam::repair {

/// chosen: for each pixel of the hole its source pixel; replaced. colours: already filled; the pieces stay near that.
/// Errors: cancelled.
base::Status inPieces(const image::Raster<float>& colours, const Bits& hole, const Bits& source, const base::Progress& progress,
                      image::Raster<std::int32_t>& chosen);

}  // namespace hseam::repair
