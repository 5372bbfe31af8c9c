#pragma once

#include <array>

#include "core/image/tiled_image.h"

namespace hseam::matte {

/// The flat colour on which an edge shows best: of a grid over sRGB (0.1 to 0.85 a channel), the one whose smallest CIEDE2000
/// difference to the subject's edge colours is largest, given as sRGB 0..1. colours: the shown picture; mask: its coverage
/// (grey8). Works on a level of at most about 0.25 megapixel. Without any edge: mid green.
base::Result<std::array<double, 3>> contrastingGround(const image::TiledImage& colours, const image::TiledImage& mask);

}  // namespace hseam::matte
