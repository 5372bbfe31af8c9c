#pragma once
// A coarse preview of a cut while it is being solved.

#include "core/base/executor.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

/// The alpha that solving would give, from a level of about 600 px a side, enlarged to the picture's size: strands become haze.
/// band null: it is found. For display only. Grey8. Takes some tenths of a second. Errors: those of findBand and solveCut.
base::Result<image::TiledImage> quickAlpha(const image::TiledImage& source, const image::TiledImage& selection,
                                           const image::TiledImage& band, base::Executor& executor);

}  // namespace hseam::matte
