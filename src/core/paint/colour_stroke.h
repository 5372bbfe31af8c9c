#pragma once
// Colour laid on a painting through the coverage of a stroke.

#include <array>

#include "core/image/tiled_image.h"

namespace hseam::paint {

/// `before` (rgba8, straight) with the colour over it where `coverage` (grey8, of its size) says, mixed in linear light; `erase`:
/// its own coverage falls there instead, and its colours stay. Only `area` is looked at; the rest is `now`'s. Errors: what
/// reading and keeping say.
base::Result<image::TiledImage> laidOn(const image::TiledImage& before, const image::TiledImage& now,
                                       const image::TiledImage& coverage, const std::array<double, 3>& colour, bool erase,
                                       const base::Rect& area, base::Executor& executor);

/// The same with a colour for each pixel: straight encoded RGBA, 0..1, of the size of `area`, which lies within the painting.
base::Result<image::TiledImage> laidOn(const image::TiledImage& before, const image::TiledImage& now,
                                       const image::TiledImage& coverage, const image::Raster<float>& colours,
                                       const base::Rect& area, base::Executor& executor);

}  // namespace hseam::paint
