#pragma once

#include <array>

#include "core/image/tile.h"

namespace hseam::image {

/// Half the resolution: mean of 2 × 2 pixels, colours weighted by alpha in linear light, coverage as it is.
/// quarters: the up to four tiles below, in reading order; a missing one (null) repeats its neighbour's edge.
/// valid: how much of the 512 × 512 px below is inside the image; the rest repeats the last row and column.
base::Result<Bytes> halved(PixelFormat format, const std::array<TileRef, 4>& quarters, int validWidth, int validHeight);

}  // namespace hseam::image
