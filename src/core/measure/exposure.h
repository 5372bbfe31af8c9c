#pragma once

#include "core/measure/pixels.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// Exposure difference between two registered pictures of a scene, robust to what moved.
struct ExposureGain {
  Reading stops;      // of luminance; 1 is twice the light
  Reading red, blue;  // stops of the channel against green
};
/// In linear light, from pixels that count and are neither dark nor clipped in either; the mean of the middle half (midmean).
/// Both of one size, straight encoded colours with coverage. Can't tell: fewer than 200 such pixels.
ExposureGain exposureBetween(const image::Raster<float>& from, const image::Raster<float>& to,
                             const image::Raster<std::uint8_t>& counts);

}  // namespace hseam::measure
