#pragma once

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

/// Reopens places behind the band that show the background between strands: decided as subject, within `reachPx` (level-0
/// px) of the edge, and of the background's own colour there. They become undecided with a rim of three px, their middles
/// background. Only where the background nearby is even and the subject nearby has another colour; else nothing is certain and
/// nothing changes. picture: the source of the band. Cost: O(area of the band's box). Errors: cancelled, what reading says.
base::Result<image::TiledImage> openPockets(const image::TiledImage& band, const image::TiledImage& picture, double reachPx,
                                            base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::matte
