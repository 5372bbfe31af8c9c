#pragma once

#include "core/retouch/retouch.h"

namespace hseam::retouch {

/// What a scene shows under a stroke, and the same filled from its surroundings.
struct FilledAround {
  base::Rect area;                       // px of the painting, as far around as the stroke is wide
  image::Raster<float> shown, filled;    // straight encoded RGBA; filled covers everywhere
  image::Raster<std::uint8_t> coverage;  // of the stroke
};
/// touched must not be empty. Errors: as mended().
base::Result<FilledAround> filledAround(const Stroke& stroke, const scene::Scene& under, std::uint32_t seed,
                                        base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::retouch
