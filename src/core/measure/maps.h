#pragma once
// What cannot be seen in a picture as it is, drawn as pictures of their own.

#include "core/image/raster.h"

namespace hseam::measure {

/// Grain pulled out of the picture: mid grey, and about it what luma differs from its neighbours' (3 × 3 px), twelve times as
/// strong. colours: 4 channels, straight encoded; out: one channel, 0..1. Needs one px around.
image::Raster<float> grainMap(const image::Raster<float>& colours);

/// Where it is in focus: fine detail (between px) against coarse detail (between pairs of px) within about 8 px; 0 soft … 1 as
/// sharp as pictures are, −1 where there is no detail to tell by. Needs 20 px around.
image::Raster<float> focusMap(const image::Raster<float>& colours);
inline constexpr int kMapReach = 20;  // px that either needs around

}  // namespace hseam::measure
