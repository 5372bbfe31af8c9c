#pragma once

#include "core/image/raster.h"

namespace hseam::retouch {

struct LightUnder {
  image::Raster<float> light;  // natural logarithm of the luminance
  image::Raster<float> known;  // 0..1: how far it tells; less where steps of colour lie close together
};

/// The light on a surface under a mark. light: linear RGB; mark: 1 channel, > 0. What is there without the mark's own steps of
/// colour, over which the light round them goes on, and without what is finer than a hundredth of the mark; outside the mark what
/// is there. A step is a difference of neighbours, in luminance or in hue, that is larger than most round the mark. Cost: a
/// sparse system of at most 40 thousand unknowns, whatever the size.
LightUnder lightUnder(const image::Raster<float>& light, const image::Raster<std::uint8_t>& mark);

}  // namespace hseam::retouch
