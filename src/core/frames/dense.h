#pragma once
// Dense refinement of a map from all static pixels: inverse compositional Gauss-Newton (Baker and Matthews 2004). Blocks share
// the map; each has its own gain and offset, so exposure does not matter.

#include "core/base/executor.h"
#include "core/frames/map_fit.h"
#include "core/image/raster.h"

namespace hseam::frames {

struct Dense {
  Homography map;         // from → to
  double stillShare = 0;  // of the blocks that show the same in both
  double change = 0;      // mean log ratio of the residual to that of the start, over blocks static in both: below 0 is better
};

/// from, to: one channel, 0..1. start: from → to, right to about a pixel. The result does not depend on the number of threads.
Dense refined(const image::Raster<float>& from, const image::Raster<float>& to, const Homography& start, MapModel model,
              base::Executor& executor);

/// Coarse to fine, as a similarity: for pictures shifted by up to a few hundredths of their size.
Dense refinedFromAfar(const image::Raster<float>& from, const image::Raster<float>& to, const Homography& start,
                      base::Executor& executor);

}  // namespace hseam::frames
