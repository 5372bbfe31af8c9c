#pragma once
// Which frame each pixel comes from: the labels of least cost (alpha expansion, Boykov, Veksler, Zabih 2001) where a change from
// one frame to another costs by how much both disagree there in colour and gradient (Agarwala et al. 2004).

#include <cstdint>
#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/frames/moved.h"

namespace hseam::frames {

/// Data term by pixel and label; labels are indices of frames. In the units of seams: sums of differences of encoded colours.
struct DataCosts {
  std::vector<image::Raster<float>> cost;  // by frame
  image::Raster<std::uint8_t> fixed;       // 255: free; else it is this frame
};

/// Data term plus smoothness term over 4-neighbours.
double costOf(const Stack& stack, const DataCosts& costs, const image::Raster<std::uint8_t>& labels);

/// Runs alpha expansion until no move lowers the cost, at most `sweeps` rounds. within: 1 = may change; empty: all may.
/// Errors: cancelled.
base::Status expand(const Stack& stack, const DataCosts& costs, const image::Raster<std::uint8_t>& within, int sweeps,
                    const base::Progress& progress, image::Raster<std::uint8_t>& labels);

}  // namespace hseam::frames
