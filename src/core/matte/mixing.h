#pragma once
// Whether subject and background were averaged as light or as encoded sRGB values.

#include <vector>

#include "core/matte/evidence.h"

namespace hseam::matte {

/// One try at a picture in one kind of values.
struct Try {
  const image::Raster<float>& picture;  // 3 channels, in these values
  const image::Raster<float>& alpha;    // as solved in them
  const std::vector<Evidence>& evidence;
};

/// How much the picture looks mixed in its encoded values rather than in light, 0..1. Lenses mix light; what was composed by a
/// program often mixes encoded values. Two signs: in which values the edge's colours are the likelier mixtures of the colours
/// around (densities compared in one measure), and in which the solution fits the lines of colour better. pixels: the undecided
/// ones, to which the evidence belongs.
double encodedShareOf(const Try& light, const Try& encoded, const image::Raster<std::uint8_t>& band,
                      const std::vector<int>& pixels, base::Executor& executor);

}  // namespace hseam::matte
