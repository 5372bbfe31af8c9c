#pragma once

#include "core/image/raster.h"
#include "core/image/tiled_image.h"

namespace hseam::tasks {

/// A picture's level as four channels: encoded colours, straight coverage (1 where it has none). 16 bytes a pixel. Errors: what
/// reading says.
base::Result<image::Raster<float>> coloursOf(const image::TiledImage& picture, int level);

/// The finest level with at most so many pixels.
int levelWithin(const image::TiledImage& picture, double pixels);

}  // namespace hseam::tasks
