#pragma once
// Which frame each pixel comes from: the labels of least cost (alpha expansion, Boykov, Veksler, Zabih 2001) where a change from
// one frame to another costs by how much both disagree there in colour and gradient (Agarwala et al. 2004).

#include <cstdint>
#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/frames/moved.h"

namespace hseam::frames {

/// What each pixel costs by itself; labels are indices of frames. In sums of differences of encoded colours, as seams cost.
struct DataCosts {
  std::vector<image::Raster<float>> cost;  // by frame
  image::Raster<std::uint8_t> fixed;       // 255: free; else it is this frame
};

/// Data costs, and what each change between neighbours (4 of a pixel) costs.
double costOf(const Stack& stack, const DataCosts& costs, const image::Raster<std::uint8_t>& labels);

/// Improves labels until no expansion does any more, at most `sweeps` rounds. within: pixels that may change (1); empty: all.
/// Errors: cancelled.
base::Status expand(const Stack& stack, const DataCosts& costs, const image::Raster<std::uint8_t>& within, int sweeps,
                    const base::Progress& progress, image::Raster<std::uint8_t>& labels);

}  // namespace hseam::frames
