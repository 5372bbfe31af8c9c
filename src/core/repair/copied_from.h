#pragma once

#include <cstdint>
#include <vector>

#include "core/base/geometry.h"
#include "core/image/raster.h"

namespace hseam::repair {

/// A piece of a fill that was copied as one, and where from.
struct CopiedFrom {
  base::Rect to, from;
  double share = 0;  // of the hole
};

/// The largest pieces of a filled hole, the largest first, at most `most`; those below a hundredth of the hole are left out.
/// chosen: for each pixel of the hole the index of the one that it was taken from.
std::vector<CopiedFrom> piecesOf(const image::Raster<std::int32_t>& chosen, const image::Raster<std::uint8_t>& hole,
                                 std::size_t most);

}  // namespace hseam::repair
