#pragma once

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

/// Upsamples a selection made on a reduced copy of `picture` (255 or 0, same proportions), level by level with a guided filter
/// (He, Sun, Tang 2013) along the outline. Grey8 of the picture's size. Cost: about 30 ns a px of the outline's surroundings.
/// Errors: cancelled, what reading says.
base::Result<image::TiledImage> atFullSize(const image::TiledImage& picture, image::Raster<std::uint8_t> coarse,
                                           base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::select
