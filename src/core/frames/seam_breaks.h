#pragma once
// Places where edges that cross a seam between frames do not meet.

#include "core/frames/frame.h"

namespace hseam::frames {

struct SeamBreak {
  base::Rect where;                   // px of the base
  std::size_t first = 0, second = 0;  // the frames that meet there, from 0
  /// Offset between the edges, px of the base; 0: the content differs and no shift explains it.
  double px = 0;
  /// Root mean square difference along the seam where it crosses edges, encoded 0..1, without the mean.
  double difference = 0;
};

/// Places of 48 px along the seams, the worst first, neighbours of one pair of frames as one. labels: grey8 of the base's size, k
/// = from frame k, from 1. Places without edges are skipped. Cost: grows with the length of the
/// seams. Errors: as frames::montage.
base::Result<std::vector<SeamBreak>> seamBreaks(const std::vector<Frame>& frames, const image::TiledImage& labels,
                                                base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
