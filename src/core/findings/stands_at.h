#pragma once

#include "core/matte/standing.h"
#include "core/scene/scene.h"

namespace hseam::findings {

/// Where a layer with a shape (scene::casts) touches the ground, in its own px (scene::ownToScene); `covered` likewise. A cut-out
/// without bends and mask numbers is read from its mask; others are rendered alone. Empty if it shows nothing. Errors: notFound,
/// what rendering says.
base::Result<std::optional<matte::Standing>> standsAt(const scene::Scene& scene, scene::LayerId layer);
/// The foot of its cast shadow, own px: the middle of what it stands on. A shadow takes its caster for an upright card; a crate
/// or a hound has depth, and the card stands in its middle, not where it is nearest. Without a floor below it: where it touches.
base::Point shadowFoot(const scene::Scene& scene, const scene::Layer& layer, const matte::Standing& stands);

}  // namespace hseam::findings
