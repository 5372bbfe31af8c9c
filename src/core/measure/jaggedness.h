#pragma once

#include "core/measure/outline.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// How far (px, root of the mean square) the outline, where coverage passes one half, lies off itself smoothed over about 10 px,
/// less what that is on the average nearby (a curve): steps of a mask without fractional px, or of a small one enlarged. Places
/// whose edge is no single fall (hair) do not count, nor corners. 0 where its roughness follows no grid of pixels: fur, bark and
/// leaves are rough by nature. Can't tell: fewer than 60 places or a third of them.
Reading jaggednessOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
