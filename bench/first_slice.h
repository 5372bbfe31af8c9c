#pragma once
// The product's first solver, kept as a peer: closed form in linear light, colours found along rays as a weak data term.

#include "core/base/executor.h"
#include "core/image/raster.h"

namespace hseam::bench {

/// picture: sRGB-encoded, 3 channels, 0..1; band: trimap values. Alpha 0..1.
image::Raster<float> firstSlice(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band,
                                base::Executor& executor);

}  // namespace hseam::bench
