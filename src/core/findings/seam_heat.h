#pragma once
// How much each place of a cut's outline gives away, to be drawn along it.

#include <vector>

#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::findings {

struct HeatPlace {
  base::Point at;   // scene px
  float heat = 0;   // 1: just out of tolerance. What is left of the old background, or an edge unlike the rest of the cut's
  int outline = 0;  // neighbours of one outline follow one another
};

/// Along every outline of the layer's mask, about every `stepPx` px of the picture; each place a mean over 24 px of arc. Halo: of
/// the project's tolerance; softness (where the edge is solid): by how many times it differs from the middle of the cut's own.
/// Nothing: it has no mask that acts, or no outline. Bends are followed. Errors: notFound, what reading says, cancelled.
base::Result<std::vector<HeatPlace>> seamHeat(const scene::Scene& scene, scene::LayerId layer, int stepPx,
                                              const std::stop_token& stop);

}  // namespace hseam::findings
