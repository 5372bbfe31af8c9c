#pragma once
// A first idea of a cut while the real one is being worked out.

#include "core/base/executor.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

/// The alpha that solving would give, from a level of about 600 px a side, enlarged to the picture's size: strands come out as
/// haze. band null: found there. For looking at, not for keeping. Grey8. Cost: some tenths of a second. Errors: those of
/// findBand and solveCut.
base::Result<image::TiledImage> quickAlpha(const image::TiledImage& source, const image::TiledImage& selection,
                                           const image::TiledImage& band, base::Executor& executor);

}  // namespace hseam::matte
