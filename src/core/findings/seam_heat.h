#pragma once
// How conspicuous each place of a cut's outline is, to be drawn along it.

#include <vector>

#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::findings {

struct HeatPlace {
  base::Point at;   // scene px
  float heat = 0;   // 1: at the tolerance. The larger of halo and of difference in softness
  int outline = 0;  // index of the outline; its places are in order
};

/// Along every outline of the layer's mask, about every `stepPx` px of the picture; each a mean over 24 px of arc. Halo is
/// relative to the project's tolerance; softness (of solid edges) is its ratio to the median of the same cut. Empty where the
/// layer has no active mask or no outline. Bends are followed. Errors: notFound, what reading says, cancelled.
base::Result<std::vector<HeatPlace>> seamHeat(const scene::Scene& scene, scene::LayerId layer, int stepPx,
                                              const std::stop_token& stop);

}  // namespace hseam::findings
