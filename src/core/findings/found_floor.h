#pragma once

#include <optional>
#include <string>

#include "core/base/error.h"
#include "core/scene/scene.h"

namespace hseam::findings {

/// The floor of a scene as its lines tell it, for scenes in which nobody has drawn one: a guess until the user confirms it.
struct FoundFloor {
  scene::LayerRef place;              // the layer that it was read from; null: there is none
  base::Size canvas;                  // then
  std::optional<scene::Floor> floor;  // horizon and tilt, and the angle of view where the camera wrote its focal length
  double spreadPx = 0;                // of the horizon, scene px, one standard deviation
  int lines = 0;                      // that it rests on
  std::string reason = {};            // why there is none
};

/// Read from the visible picture that lies furthest back (measure::horizonOf at a level of at most a megapixel), in about a tenth
/// of a second. before: an earlier answer, returned where that layer is the same one; may be null. Errors: what reading says.
base::Result<FoundFloor> foundFloor(const scene::Scene& scene, const FoundFloor* before = nullptr);

}  // namespace hseam::findings
