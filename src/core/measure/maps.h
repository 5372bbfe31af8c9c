#pragma once
// Maps of grain and of focus, to be displayed.

#include "core/image/raster.h"

namespace hseam::measure {

/// Grain alone: mid grey plus twelve times the difference of luma from the mean of 3 × 3 px. colours: 4 channels, straight
/// encoded; out: one channel, 0..1. Needs one px around.
image::Raster<float> grainMap(const image::Raster<float>& colours);

/// Where it is in focus: the ratio of fine detail (between px) to coarse detail (between pairs of px) within about 8 px; 0 soft …
/// 1 as sharp as pictures get, −1 without detail. Needs 20 px around.
image::Raster<float> focusMap(const image::Raster<float>& colours);
inline constexpr int kMapReach = 20;  // px that either needs around

}  // namespace hseam::measure
