#pragma once
// Fine detail on both sides of a seam across which surfaces continue: texture is equal, so a difference is due to grain or focus.

#include "core/measure/outline.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// Squares of 8 px near the outline, on both sides: mean squares of differences of luma (encoded, 0..1), scaled so that white
/// noise of variance v gives v in `diagonal` and `fine` and v / 4 in `coarse`.
struct SeamSquares {
  struct Detail {
    float diagonal = 0, fine = 0;  // between px: along diagonals; across and down
    float coarse = 0;              // between pairs of px, across and down
  };
  std::vector<Detail> inside, outside;
};
/// In the order of the outline.
SeamSquares squaresAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                          const std::vector<OutlinePlace>& outline);

/// Upper limit of the noise's standard deviation, from the calmest tenth of the squares.
double mostNoise(const std::vector<SeamSquares::Detail>& squares);

/// Variance of luma inside minus outside, compared between squares of equal coarse detail. Can't tell: too few squares.
Reading noiseAcross(const SeamSquares& squares);

/// Standard deviation (px) of the Gaussian blur that makes the outside as soft as the inside; negative: that makes the inside as
/// soft as the outside. 0 if within chance. Up to 3 px. Can't tell: too few squares, or too little detail in them.
Reading blurAcross(const image::Raster<float>& own, const image::Raster<float>& scene, const std::vector<OutlinePlace>& outline);

/// Amount of unsharp masking (Gaussian of sigmaPx) that gives the inside as much fine detail as the outside: 0..5. Can't tell: as
/// blurAcross.
Reading sharpeningAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                         const std::vector<OutlinePlace>& outline, double sigmaPx);

}  // namespace hseam::measure
