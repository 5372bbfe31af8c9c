#pragma once
// What single pixels' colours say about alpha, before neighbours are asked.

#include <vector>

#include "core/base/executor.h"
#include "core/image/raster.h"

namespace hseam::matte {

struct Evidence {
  float alpha = 0.5f;
  float confidence = 0;  // 0..1
};

/// For every undecided pixel the best explanation of its colour by one subject and one background colour from the border
/// of the band, found along rays and then shared between neighbours (Gastal & Oliveira 2010, "Shared Sampling for Real-Time
/// Alpha Matting", with other weights). picture: 3 channels 0..1; band: trimap values; pixels: y·width + x of the undecided
/// ones. Cost: about 60 colour comparisons a pixel.
std::vector<Evidence> colourEvidence(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band,
                                     const std::vector<int>& pixels, base::Executor& executor);

}  // namespace hseam::matte
