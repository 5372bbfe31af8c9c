#pragma once
// The part of a picture that belongs to one stretch of an outline.

#include "core/image/raster.h"
#include "core/matte/unrolled.h"

namespace hseam::matte {

inline constexpr int kStretchReach = 64;  // px to each side of the outline, within which pixels belong to a stretch

/// The pixels whose nearest place lies on the stretch, in a window round it.
struct StretchZone {
  base::Rect window;
  image::Raster<int> place;     // index of the nearest place; −1: not of the stretch
  image::Raster<float> across;  // px outwards of that place
  image::Raster<float> share;   // weight of the new result, 0..1: fades over 12 px of arc at the stretch's ends
};

/// Places [first, first + count), within `reach` px of them; the window has `surroundings` px more.
StretchZone stretchZone(const Unrolled& outline, int first, int count, int reach, int surroundings, base::Size picture);

}  // namespace hseam::matte
