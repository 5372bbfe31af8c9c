#pragma once

#include "core/image/raster.h"

namespace hseam::retouch {

struct LightUnder {
  image::Raster<float> light;  // natural logarithm of the luminance
  image::Raster<float> known;  // 0..1: its certainty; less where steps of colour lie close together
};

/// The light on a surface under a mark. light: linear RGB; mark: 1 channel, > 0. Removes the mark's own steps of colour, by
/// continuing the light around them, and detail finer than a hundredth of the mark; unchanged outside the mark. A step is a
/// difference of neighbours, in luminance or hue, larger than most around the mark. Cost: a sparse system of at most 40 thousand
/// unknowns, whatever the size.
LightUnder lightUnder(const image::Raster<float>& light, const image::Raster<std::uint8_t>& mark);

}  // namespace hseam::retouch
