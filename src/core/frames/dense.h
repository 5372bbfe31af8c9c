#pragma once
// A map that is known to a part of a pixel, made exact with every pixel that stands still (inverse compositional Gauss-Newton,
// Baker and Matthews 2004; all blocks share the map, and each has a gain and an offset of its own, so that exposure does not
// matter).

#include "core/base/executor.h"
#include "core/frames/map_fit.h"
#include "core/image/raster.h"

namespace hseam::frames {

struct Dense {
  Homography map;         // from → to
  double stillShare = 0;  // of the blocks that show the same in both
  double change = 0;  // mean log of what is left over against the start, over blocks that are still in both: below 0 is better
};

/// from, to: one channel, 0..1. start: from → to, right to about a pixel. Executed in blocks; the same for any number of threads.
Dense refined(const image::Raster<float>& from, const image::Raster<float>& to, const Homography& start, MapModel model,
              base::Executor& executor);

/// From coarse to fine, as a similarity: for pictures that lie within some hundredths of their size of each other.
Dense refinedFromAfar(const image::Raster<float>& from, const image::Raster<float>& to, const Homography& start,
                      base::Executor& executor);

}  // namespace hseam::frames
