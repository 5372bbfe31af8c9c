#pragma once
// Structural similarity of two pictures.

#include <cstdint>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/raster.h"

namespace hseam::deliver {

inline constexpr int kCropSide = 256;  // px of the crop that is compared by eye

struct Likeness {
  double mean = 1;     // of the whole picture; 1 = the same
  double worst = 1;    // of the least similar square of kCropSide px (less where the picture is smaller)
  base::Rect worstAt;  // that square
};

/// Structural similarity (Wang, Bovik, Sheikh, Simoncelli 2004): luma of encoded values, Gaussian windows of 1.5 px, K 0.01 and
/// 0.03. Both: 8 bit, 3 or 4 channels (with alpha: laid on grey), of one size. The square is found to 32 px. Errors: cancelled,
/// outOfMemory.
base::Result<Likeness> likenessOf(const image::Raster<std::uint8_t>& a, const image::Raster<std::uint8_t>& b,
                                  base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::deliver
