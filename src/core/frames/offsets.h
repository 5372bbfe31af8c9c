#pragma once
// Evens out steps of tone along seams: each side takes half of the step, fading with the distance from the seam.

#include <array>
#include <vector>

#include "core/frames/frame.h"

namespace hseam::frames {

/// What is added to the encoded colours of a frame at a place of the base.
class Offsets {
 public:
  std::array<float, 3> at(std::size_t frame, int x, int y) const;

 private:
  friend base::Result<Offsets> offsetsOf(const std::vector<Frame>& frames, const image::TiledImage& labels);
  int shift_ = 0;                              // of the level on which they were worked out
  std::vector<image::Raster<float>> byFrame_;  // 3 channels; empty where a frame has no seam
};

/// labels: grey8 of level 0, from 1. Errors: what reading says.
base::Result<Offsets> offsetsOf(const std::vector<Frame>& frames, const image::TiledImage& labels);

}  // namespace hseam::frames
