#pragma once
// What has moved between registered frames: where each differs from the majority.

#include <cstdint>
#include <vector>

#include "core/frames/stack.h"

namespace hseam::frames {

/// Connected pieces by frame: 0 = like the others, else the piece's number, from 1. Of two frames it is unknown which one has the
/// thing: both get the same pieces.
struct Moved {
  std::vector<image::Raster<std::int32_t>> pieces;
  std::vector<int> counts;
  std::vector<image::Raster<std::uint8_t>>
      solid;  // by frame: 1 where a piece is a thing and not its shadow (solid.h); of two frames all
};
Moved moved(const Stack& stack);

}  // namespace hseam::frames
