#pragma once
// A subject's shadow on its original paper, separated from it, to be multiplied onto another picture.

#include <array>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

struct KeptShadow {
  image::TiledImage picture;      // rgb8 of the source's size; white where there is no shadow
  std::array<double, 3> paper{};  // encoded, its mean
  double unevenness = 0;          // L* between the paper's lightest and darkest place
  double veil = 0;                // mean L* below white where there is no shadow
  double deepest = 0;             // L* of the shadow's darkest hundredth
};

/// Fits the paper as a smooth surface to what is neither subject nor shadow (a cubic in log light, robust to darker outliers) and
/// divides each pixel's light by it, channel by channel. Differences from white within noise become white. Below the subject,
/// shadow is filled in from around it. Towards the border, shadow fades over 4 % of the picture's shorter side. alpha: grey8 or
/// grey16 of the picture's size. Errors: invalid (no plain paper round the subject), cancelled, outOfMemory, what reading says.
base::Result<KeptShadow> keptShadow(const image::TiledImage& source, const image::TiledImage& alpha, base::Executor& executor,
                                    const base::Progress& progress);

}  // namespace hseam::matte
