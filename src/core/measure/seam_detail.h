#pragma once
// Fine detail on both sides of a seam whose surfaces go on: texture is the same on both, so that what differs is grain or focus.

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

/// The most that the standard deviation of noise in all of these squares can be: by the calmest tenth of them.
double mostNoise(const std::vector<SeamSquares::Detail>& squares);

/// The variance of luma that the inside has more than the outside (negative: less): squares of as much coarse detail are
/// compared. Can't tell: too few squares.
Reading noiseAcross(const SeamSquares& squares);

/// By how much the inside is softer than the outside, as the standard deviation (px) of the blur that makes the outside like it;
/// below 0: by how much the inside would have to be blurred. 0 within what chance gives. Up to 3 px. Can't tell: too few squares,
/// or too little detail in them.
Reading blurAcross(const image::Raster<float>& own, const image::Raster<float>& scene, const std::vector<OutlinePlace>& outline);

/// By how much what a Gaussian of sigmaPx takes from the inside must be added to it (unsharp masking) for its detail to be as
/// fine as the outside's: 0..5. Can't tell: as blurAcross.
Reading sharpeningAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                         const std::vector<OutlinePlace>& outline, double sigmaPx);

}  // namespace hseam::measure
