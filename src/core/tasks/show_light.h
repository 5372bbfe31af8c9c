#pragma once

#include <string>

#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::tasks {

struct ShownLight {
  scene::PlaceLight light;
  /// Why the shadow's darkness is not measured; empty: it is.
  std::string unmeasured;
};

/// The light of the place by one shadow that is seen in it, the darkness and the colour of its shadows measured there
/// (measure::shadowToneOf, on at most 400 px a side); the light's size, and what cannot be measured, stay as they are in the
/// scene. Some ten milliseconds. Errors: invalid (no light can be told from it on the scene's floor).
base::Result<ShownLight> shownLight(const scene::Scene& scene, const scene::SeenShadow& seen, base::Executor& executor);

}  // namespace hseam::tasks
