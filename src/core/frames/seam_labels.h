#pragma once
// Which frame each pixel of a montage comes from.

#include "core/frames/frame.h"

namespace hseam::frames {

/// What becomes of a thing of the base that has moved and that no pick is on: it goes, as those of the other frames do, or it
/// stays.
enum class UnpickedOfBase { goes, stays };

struct SeamLabels {
  image::TiledImage labels;  // grey8, k = from frame k, from 1
  double cost = 0;           // of the working level, in the units of seam.h
};

/// What montage() blends by; arguments and errors as there. Cost grows with the number of frames and with the length of the
/// seams: they are found on a level of some 0.1 MP and followed up to full size.
base::Result<SeamLabels> seamLabels(const std::vector<Frame>& frames, const image::TiledImage& picks, UnpickedOfBase unpicked,
                                    base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
