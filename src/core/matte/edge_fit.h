#pragma once
// Where a crisp edge runs, to a fraction of a pixel, from the picture's own colours across it.

#include "core/matte/unrolled.h"

namespace hseam::matte {

struct FittedEdge {
  std::vector<double> outwardsPx;  // of each place, along its normal
  std::vector<double> sigmaPx;     // of the blur that the lens and the pixels gave it
  std::vector<double> certainty;   // 0..1; 0: inside and outside look alike here
};

/// Places [first, first + count). Across each the colours from inside to outside are held against blurred steps (a normal
/// distribution's integral) of every position within 8 px and every blur of 0.35 to 4 px; neighbours are averaged by certainty
/// along the outline (position 3 px, blur 12 px). inEncoded: subject and background were averaged as encoded sRGB values, not as
/// light. Errors: what reading says.
base::Result<FittedEdge> fittedEdge(const Unrolled& outline, int first, int count, const image::TiledImage& picture,
                                    bool inEncoded);

/// Coverage at `s` px outwards of the edge's place.
double coverageAcross(double s, double outwardsPx, double sigmaPx);

}  // namespace hseam::matte
