#pragma once

#include "core/matte/unrolled.h"
#include "core/scene/scene.h"

namespace hseam::app {

/// The finished scene along a layer's outline, laid out as matte::edgeStrip does: `count` columns, 2 · reach + 1 rows of the
/// layer's px, the outside on top, 8-bit sRGB. Outside the canvas black. Errors: what rendering says.
base::Result<image::Raster<std::uint8_t>> sceneStrip(const matte::Unrolled& outline, int first, int count, int reach,
                                                     const scene::Scene& scene, scene::LayerId layer);

}  // namespace hseam::app
