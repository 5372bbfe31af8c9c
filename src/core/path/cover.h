#pragma once
// From a path to coverage: the exact area of each pixel that lies inside.

#include "core/image/tiled_image.h"
#include "core/path/path.h"

namespace hseam::path {

/// Grey8 coverage of `size` px: closed outlines combine in their order (add: the larger; take away: the smaller of what is there
/// and the rest; overlap: the smaller); the first one starts from nothing. Each outline's coverage is the signed area of its
/// chord polygon in every pixel, exact for chords that leave the curve by less than 1/2000 px; where an outline covers a place
/// twice it counts once. Cost: the tiles that an edge crosses. Errors: outOfMemory.
base::Result<image::TiledImage> coverage(const Path& path, base::Size size, const std::shared_ptr<image::TileMemory>& memory,
                                         base::Executor& executor);

/// The same for a part alone, as a raster: px of the picture.
image::Raster<std::uint8_t> coverageIn(const Path& path, const base::Rect& area);

}  // namespace hseam::path
