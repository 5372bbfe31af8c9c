#pragma once
// Colour of an old background along a subject's edge.

#include <vector>

#include "core/measure/outline.h"

namespace hseam::measure {

/// How far the colours of the edge (coverage 0.25 to 0.9) differ from those further in, in one direction all around. Mean
/// difference in L*a*b* over the outline where the inside is even, less what round shading explains (under a light from the
/// viewer a sphere's cosine falls with the root of the distance from its limb: Lambert) or less a rim of the subject's own (a
/// skin, a bloom), which goes on where coverage is whole and fades inwards. Its CIEDE2000 size from the mean inside colour.
/// Places px of the raster; colours encoded sRGB. Can't tell: fewer than 20 such places. `length`: places that share it; `share`:
/// of all that were read.
struct Halo {
  Reading size;
  double length = 0, share = 0;
  double l = 0, a = 0, b = 0;  // the direction
  base::Rect where;
};
Halo haloOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline);
/// The same where a surface continues across the seam: the edge is compared with the mean of the inside and the scene 4 to 8 px
/// outside, which is more exact than the inside alone.
Halo haloAcross(const image::Raster<float>& colours, const image::Raster<float>& scene, const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
