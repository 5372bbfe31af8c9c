#pragma once
// The transition band: the strip of a picture in which alpha is unknown.

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

/// A band of `widthPx` (level-0 px, 1..400) centred on the selection's half-way line, wider where the selection itself is
/// soft (coverage within 0.02..0.98). Parts thinner than the band but at least 10 px thick keep a decided middle. Grey8:
/// kSubject, kUndecided, kBackground. Cost: O(area of the selection's border box). Errors: invalid (nothing is selected, or
/// everything is), cancelled.
base::Result<image::TiledImage> makeBand(const image::TiledImage& selection, double widthPx, base::Executor& executor,
                                         const base::Progress& progress);

/// The share of the picture that is undecided, 0..1.
base::Result<double> undecidedShare(const image::TiledImage& band);

}  // namespace hseam::matte
