#pragma once
// Larger pieces instead of many small ones: the hole is put together from the picture moved by a few shifts, those that patches
// took most often (He and Sun 2012), with seams where the pieces agree.

#include "core/frames/seam.h"
#include "core/repair/patch_search.h"

namespace hseam::repair {

/// chosen: for each pixel of the hole the pixel it is taken from; it is replaced. colours: filled already; pieces stay near it.
/// Errors: cancelled.
base::Status inPieces(const image::Raster<float>& colours, const Bits& hole, const Bits& source, const base::Progress& progress,
                      image::Raster<std::int32_t>& chosen);

}  // namespace hseam::repair
