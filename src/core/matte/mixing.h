#pragma once
// Detects whether a picture mixed subject and background in linear light or in encoded sRGB.

#include <vector>

#include "core/matte/evidence.h"

namespace hseam::matte {

/// A solution in one of the two kinds of values.
struct Try {
  const image::Raster<float>& picture;  // 3 channels, in these values
  const image::Raster<float>& alpha;    // as solved in them
  const std::vector<Evidence>& evidence;
};

/// Degree to which the picture looks mixed in encoded values, 0..1. Lenses mix light; pictures composed by a program often mix
/// encoded values. Two cues: in which values the edge's colours are likelier mixtures of the colours around (densities in one
/// measure), and in which the solution fits colour lines better. pixels: the undecided ones, to which the evidence belongs.
double encodedShareOf(const Try& light, const Try& encoded, const image::Raster<std::uint8_t>& band,
                      const std::vector<int>& pixels, base::Executor& executor);

}  // namespace hseam::matte
