#pragma once

#include "core/matte/standing.h"
#include "core/scene/scene.h"

namespace hseam::findings {

/// Where a layer with a shape (scene::casts) touches the ground, in its own px (scene::ownToScene); `covered` likewise. A cut-out
/// without bends and mask numbers is read from its mask; others are rendered alone. Empty if it shows nothing. Errors: notFound,
/// what rendering says.
base::Result<std::optional<matte::Standing>> standsAt(const scene::Scene& scene, scene::LayerId layer);

}  // namespace hseam::findings
