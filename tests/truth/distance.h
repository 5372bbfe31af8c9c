#pragma once

#include "core/image/raster.h"

namespace hseam::truth {

/// Mean CIEDE2000 of two pictures (encoded sRGB 0..1, 3 or more channels, of one size) where `where` is over 0.5; nothing there:
/// 0.
double meanDistance(const image::Raster<float>& a, const image::Raster<float>& b, const image::Raster<float>& where);

}  // namespace hseam::truth
