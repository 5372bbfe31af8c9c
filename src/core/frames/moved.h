#pragma once
// What has moved between frames that lie on each other: for every frame the places where it differs from what most of them show.

#include <cstdint>
#include <vector>

#include "core/image/raster.h"

namespace hseam::frames {

/// Frames on one grid: colours (encoded, 3 channels), and where each shows something. Empty rasters: no pixel has this label, nor
/// gets it.
struct Stack {
  std::vector<image::Raster<float>> colours;
  std::vector<image::Raster<std::uint8_t>> shown;  // 0 or 1
  std::vector<image::Raster<std::uint8_t>> cut;    // 1 where light was cut off: its colour is no evidence
  int width() const { return colours.front().width(); }
  int height() const { return colours.front().height(); }
  std::size_t pixels() const { return colours.front().pixels(); }
};

/// In connected pieces, by frame: 0 = as the others, else the piece's number, from 1. With two frames nobody knows which of them
/// has it: both have the same pieces.
struct Moved {
  std::vector<image::Raster<std::int32_t>> pieces;
  std::vector<int> counts;
};
Moved moved(const Stack& stack);

}  // namespace hseam::frames
