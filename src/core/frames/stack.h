#pragma once
// Several frames read on one grid.

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/executor.h"
#include "core/frames/frame.h"

namespace hseam::frames {

/// Colours (encoded, 3 channels) and coverage of each frame. A frame with empty rasters is not used.
struct Stack {
  std::vector<image::Raster<float>> colours;
  std::vector<image::Raster<std::uint8_t>> shown;  // 0 or 1
  std::vector<image::Raster<std::uint8_t>> cut;    // 1 where it is clipped, so its colour is not evidence
  int width() const { return colours.front().width(); }
  int height() const { return colours.front().height(); }
  std::size_t pixels() const { return colours.front().pixels(); }
};

/// An area of a level of the base. used: which frames are read, colours only, the rest stay empty; null: all, with `cut`. Errors:
/// what reading says.
base::Result<Stack> stackOf(const std::vector<Frame>& frames, int level, const base::Rect& area, base::Executor& executor,
                            const std::array<bool, 256>* used = nullptr);

}  // namespace hseam::frames
