#pragma once

#include "core/measure/outline.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// Root mean square distance, px, of the outline (coverage one half) from its smoothed self (about 10 px), less the local mean
/// (curvature): steps of a mask without fractional px, or of an enlarged small one. Places whose edge is no single fall (hair) do
/// not count, nor corners. 0 where the roughness does not follow a grid of pixels: fur, bark and leaves are naturally rough.
/// Can't tell: fewer than 60 places or a third of them.
Reading jaggednessOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
