#pragma once
// Small patches of one picture, tracked in another one (Lucas and Kanade 1981; inverse compositional, Baker and Matthews 2004).

#include <vector>

#include "core/base/executor.h"
#include "core/frames/homography.h"
#include "core/image/raster.h"

namespace hseam::frames {

/// Corners (Shi and Tomasi 1994) spread over the picture: the best of each cell of a grid. luma: one channel, 0..1. px of the
/// raster.
std::vector<base::Point> distinctPlaces(const image::Raster<float>& luma, int wanted);

struct Tracked {
  base::Point to;      // px of the other picture
  double sigmaPx = 0;  // its standard deviation, from the patch's detail and what is left over
  bool found = false;
};

/// Tracks patches of 17 px around `places` of `from` into `to`, beginning where `guess` (from → to) says. Gain and offset of
/// brightness do not matter. One channel each, 0..1.
std::vector<Tracked> tracked(const image::Raster<float>& from, const std::vector<base::Point>& places,
                             const image::Raster<float>& to, const Homography& guess, base::Executor& executor);

}  // namespace hseam::frames
