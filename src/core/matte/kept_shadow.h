#pragma once
// The shadow that a subject casts on its own paper, taken off the paper: to be multiplied onto another picture.

#include <array>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

struct KeptShadow {
  image::TiledImage picture;      // rgb8 of the source's size; white where there is no shadow
  std::array<double, 3> paper{};  // encoded, its mean
  double unevenness = 0;          // L* between the paper's lightest and darkest place, as it was lit
  double veil = 0;                // L* that is left below white where there is no shadow, the mean
  double deepest = 0;             // L* of the shadow's darkest hundredth
};

/// The paper as a smooth surface is fitted to what is neither subject nor shadow (a cubic in log light, by weights that let go
/// of what lies below it); each pixel's light is divided by it, channel by channel. What differs from white by no more than
/// noise becomes white. Below the subject shadow is filled in from around it. Towards the picture's border shadow fades over
/// 4 % of its shorter side. alpha: grey8 or grey16 of the picture's size. Errors: invalid (the subject
/// lies on nothing like paper), cancelled, outOfMemory, what reading says.
base::Result<KeptShadow> keptShadow(const image::TiledImage& source, const image::TiledImage& alpha, base::Executor& executor,
                                    const base::Progress& progress);

}  // namespace hseam::matte
