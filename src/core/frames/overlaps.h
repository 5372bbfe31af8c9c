#pragma once
// Places that things of more than one frame cover; only one of them can be in front.

#include "core/frames/frame.h"

namespace hseam::frames {

struct Overlap {
  base::Rect where;                 // px of the base: what both things cover
  std::vector<std::size_t> frames;  // whose things stand there, from 0, in their order; two or more
  std::size_t inFront = 0;          // the frame of which most is seen there
  double areaPx = 0;                // px of the base that both cover
};

/// The largest first; overlaps under a thousandth of the picture are ignored, since soft edges and noise cause them. labels:
/// grey8 of the base's size, k = from frame k, from 1. A thing is recognised where most frames show the place without it; so two
/// frames give none. Cost: as finding what has moved, on some 0.5 megapixels. Errors: as frames::montage.
base::Result<std::vector<Overlap>> overlapsOf(const std::vector<Frame>& frames, const image::TiledImage& labels,
                                              base::Executor& executor);

/// `picks` with the overlap picked from one frame, so that its thing is in front there. picks may be null. Errors:
/// what reading says.
base::Result<image::TiledImage> broughtToFront(const image::TiledImage& picks, base::Size base, const Overlap& overlap,
                                               std::size_t frame, const std::shared_ptr<image::TileMemory>& memory,
                                               base::Executor& executor);

}  // namespace hseam::frames
