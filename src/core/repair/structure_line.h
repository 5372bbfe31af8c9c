#pragma once
// Lines that continue across a hole (Sun, Yuan, Jia and Shum 2005): patches along each are taken from visible parts of the line,
// as the chain of least cost, before the rest is filled.

#include <vector>

#include "core/base/geometry.h"
#include "core/image/raster.h"

namespace hseam::repair {

/// px; a line that ends within the hole ends there.
using StructureLine = std::vector<base::Point>;

/// colours: 3 channels, encoded; hole: 1 channel, 1 = to be filled; source: 1 = may be taken from. Along each line, and the width
/// of a patch about it, the hole is filled and closed. A line that is seen nowhere in the source within a patch's reach is left
/// to the fill. Cost: places along the line in the hole × those seen, squared. True: something was filled.
bool continueLines(image::Raster<float>& colours, image::Raster<std::uint8_t>& hole, const image::Raster<std::uint8_t>& source,
                   const std::vector<StructureLine>& lines);

}  // namespace hseam::repair
