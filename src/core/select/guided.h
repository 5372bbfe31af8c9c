#pragma once

#include "core/image/raster.h"

namespace hseam::select {

/// Guided filter with a colour guide (He, Sun, Tang 2013, "Guided Image Filtering", section 4.4). guide: 3 channels 0..1;
/// values: 1 channel; radius in px; eps: variance below which the guide counts as flat.
image::Raster<float> guidedFilter(const image::Raster<float>& guide, const image::Raster<float>& values, int radius, double eps);

}  // namespace hseam::select
