#pragma once

#include "core/base/geometry.h"

namespace hseam::scene {

/// How a picture is set into the scene. Applied in this order: flip, scale, skew, turn about the centre, move.
struct Placement {
  double x = 0, y = 0;     // scene px: where the unrotated, scaled picture's top-left corner would be
  double scale = 1;        // > 0
  double rotationDeg = 0;  // positive = clockwise on the screen
  bool flipX = false, flipY = false;
  double skewDeg = 0;  // −80..80: horizontal shear; verticals lean to the right by this angle
  friend bool operator==(const Placement&, const Placement&) = default;

  /// Layer px → scene px, for a picture of this size.
  base::Affine toScene(base::Size picture) const;
};

/// Numbers are finite and within reach.
bool validPlacement(const Placement& placement);

}  // namespace hseam::scene
