#pragma once
// Pictures and bands at half their size, rounded up, and back; for the folder's own sources.

#include "core/base/executor.h"
#include "core/image/raster.h"

namespace hseam::matte {

/// Means of four.
image::Raster<float> halfPicture(const image::Raster<float>& in);
/// A coarse pixel is decided only if all four below agree.
image::Raster<std::uint8_t> halfBand(const image::Raster<std::uint8_t>& in);
/// One channel, bilinear, to a size that is twice as large or one less.
image::Raster<float> enlarged(const image::Raster<float>& half, base::Size size, base::Executor& executor);

}  // namespace hseam::matte
