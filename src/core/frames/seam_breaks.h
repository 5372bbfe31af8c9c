#pragma once
// Where a seam between frames is seen: what runs across it does not meet.

#include "core/frames/frame.h"

namespace hseam::frames {

struct SeamBreak {
  base::Rect where;                   // px of the base
  std::size_t first = 0, second = 0;  // the frames that meet there, from 0
  /// By how much what runs across lies apart, px of the base; 0: what they show there differs, and no shift explains it.
  double px = 0;
  /// Root of the mean square by which they differ along the seam where it crosses edges, encoded 0..1, their mean tone taken out.
  double difference = 0;
};

/// Places of 48 px along the seams, the worst first, neighbours of one pair of frames as one. labels: grey8 of the base's size, k
/// = from frame k, from 1. Places without edges say nothing: even surfaces meet anywhere. Cost: grows with the length of the
/// seams. Errors: as frames::montage.
base::Result<std::vector<SeamBreak>> seamBreaks(const std::vector<Frame>& frames, const image::TiledImage& labels,
                                                base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
