#pragma once

#include "core/frames/frame.h"
#include "core/frames/homography.h"
#include "core/frames/light.h"

namespace hseam::frames {

/// A picture on the base's pixels: rgba16, sRGB, alpha 0 where it shows nothing and 1 elsewhere; and where its light was cut off.
/// Resampled in light (Keys' cubic 1981). light: taken out, so that exposure and white balance are the base's. Errors: what
/// reading says, cancelled.
base::Result<Frame> onBase(const image::TiledImage& picture, const Homography& toBase, base::Size base, const LightChange& light,
                           base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
