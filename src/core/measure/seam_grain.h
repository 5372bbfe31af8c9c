#pragma once

#include "core/measure/outline.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// How much more white noise the inside of a seam has than the outside, where surfaces go on: the variance of luma (encoded, 0..1)
/// that it has more (negative: less). Squares of 8 px on both sides of the outline are compared: texture is the same on both, so
/// that what their finest detail (diagonal differences) has more than their coarser detail explains is noise, on texture too.
/// Can't tell: fewer than 40 pairs of squares.
Reading noiseAcross(const image::Raster<float>& own, const image::Raster<float>& scene, const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
