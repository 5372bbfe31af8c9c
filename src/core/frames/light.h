#pragma once
// The difference in exposure and white balance between a frame and the base, over what is static.

#include "core/frames/homography.h"
#include "core/image/tiled_image.h"

namespace hseam::frames {

/// The frame relative to the base; factors of linear light as stops (log2).
struct LightChange {
  double gainStops = 0;                // of green
  double redStops = 0, blueStops = 0;  // relative to green
  bool known = false;                  // false: too little is static
  /// Shift of its white point in mired from D65, positive = warmer (CCT after McCamy 1992).
  double mired() const;
};

/// Errors: what reading says.
base::Result<LightChange> lightChange(const image::TiledImage& base, const image::TiledImage& frame, const Homography& toBase);

}  // namespace hseam::frames
