#pragma once
// Which frame each pixel of a montage comes from.

#include "core/frames/frame.h"

namespace hseam::frames {

/// Whether a moved thing of the base without a pick is left out, as those of the other frames are, or stays.
enum class UnpickedOfBase { goes, stays };

struct SeamLabels {
  image::TiledImage labels;  // grey8, k = from frame k, from 1
  double cost = 0;           // of the working level, in the units of seam.h
};

/// The labels that montage() blends; arguments and errors as there. Seams are found at about 0.1 MP and refined up to full size;
/// cost grows with the number of frames and the length of the seams.
base::Result<SeamLabels> seamLabels(const std::vector<Frame>& frames, const image::TiledImage& picks, UnpickedOfBase unpicked,
                                    base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
