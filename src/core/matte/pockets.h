#pragma once

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

/// Reopens openings between strands that the band holds for subject: within reachPx (level-0 px) of the edge and of the
/// background's colour. They become undecided with a rim of 3 px, their middles background. Only where the background nearby is
/// even and the subject nearby has another colour. picture: the source of the band. Cost: O(area of the band's box). Errors:
/// cancelled, what reading says.
base::Result<image::TiledImage> openPockets(const image::TiledImage& band, const image::TiledImage& picture, double reachPx,
                                            base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::matte
