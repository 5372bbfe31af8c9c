#pragma once
// Sub-pixel position and blur of a crisp edge, from the picture's colours across it.

#include "core/matte/unrolled.h"

namespace hseam::matte {

struct FittedEdge {
  std::vector<double> outwardsPx;  // of each place, along its normal
  std::vector<double> sigmaPx;     // of the blur that the lens and the pixels gave it
  std::vector<double> certainty;   // 0..1; 0: no contrast between inside and outside
};

/// Places [first, first + count). The profile across each place is matched with Gaussian-blurred steps at positions within 8 px
/// and blurs of 0.35 to 4 px; results are averaged along the outline, weighted by certainty (position over 3 px, blur over 12
/// px). inEncoded: the picture mixed subject and background in encoded sRGB instead of linear light. Errors: what reading says.
base::Result<FittedEdge> fittedEdge(const Unrolled& outline, int first, int count, const image::TiledImage& picture,
                                    bool inEncoded);

/// Coverage at `s` px outwards of the edge's place.
double coverageAcross(double s, double outwardsPx, double sigmaPx);

}  // namespace hseam::matte
