#pragma once
// One picture from several registered frames. Picked things come whole, with their shadows, from the picked frame; things that
// are not picked are left out; between them, seams run where the frames agree.

#include <vector>

#include "core/frames/seam_labels.h"

namespace hseam::frames {

struct Montage {
  image::TiledImage picture;   // the base's format without alpha
  image::TiledImage labels;    // grey8: k = from frame k, from 1
  double seamCost = 0;         // of the working level, in the units of seam.h
  std::vector<double> shares;  // of the picture, by frame
};

/// frames: the base first, all of one size. picks: grey8 of that size, 0 = free, k = this place comes from frame k. Colours are
/// mixed and evened in encoded values. Cost: see seam_labels.h; blending grows with the picture. Errors: invalid (no frame, more
/// than 250, a pick of a frame that is not there), conflict (sizes differ), cancelled, what reading says.
base::Result<Montage> montage(const std::vector<Frame>& frames, const image::TiledImage& picks, UnpickedOfBase unpicked,
                              base::Executor& executor, const base::Progress& progress);

/// The maximum of the frames, channel by channel: for lamps that were lit one after another. labels: the frame that gives most.
/// Errors as above.
base::Result<Montage> lightest(const std::vector<Frame>& frames, base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
