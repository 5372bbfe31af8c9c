#pragma once
// Several frames read on one grid.

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/executor.h"
#include "core/frames/frame.h"

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

/// An area of a level of the base. used: by frame, which are read (the rest stay empty), and then colours alone, without what was
/// cut off; null: all. Errors: what reading says.
base::Result<Stack> stackOf(const std::vector<Frame>& frames, int level, const base::Rect& area, base::Executor& executor,
                            const std::array<bool, 256>* used = nullptr);

}  // namespace hseam::frames
