#pragma once
// What has moved between frames that lie on each other: for every frame the places where it differs from what most of them show.

#include <cstdint>
#include <vector>

#include "core/frames/stack.h"

namespace hseam::frames {

/// In connected pieces, by frame: 0 = as the others, else the piece's number, from 1. With two frames nobody knows which of them
/// has it: both have the same pieces.
struct Moved {
  std::vector<image::Raster<std::int32_t>> pieces;
  std::vector<int> counts;
};
Moved moved(const Stack& stack);

}  // namespace hseam::frames
