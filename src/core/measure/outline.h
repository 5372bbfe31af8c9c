#pragma once
// Readings of a subject's outline and of what lies loose about it.

#include <vector>

#include "core/base/geometry.h"
#include "core/measure/pixels.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// One place of the outline, px of the raster.
struct OutlinePlace {
  float x = 0, y = 0;
  float nx = 0, ny = 0;  // unit, outwards
  float widthPx = 0;     // 10–90 % of coverage along the normal, the pixel's own width taken out; 0: not a single fall
};
/// Where coverage passes one half, about one place a px of arc, outlines of at least 24 px; direction smoothed over 7 px.
std::vector<OutlinePlace> outlineOf(const image::Raster<float>& colours);

/// The median width of coverage over places where it falls only once. Can't tell: fewer than 40 such places or less than a third.
Reading softnessOf(const std::vector<OutlinePlace>& outline);

/// How far the colours of the edge (coverage 0.25 to 0.9) lie from those further in, in one and the same direction all around:
/// what is left of another background. Mean difference in L*a*b* over the outline where the inside is even; its CIEDE2000 size
/// from the mean inside colour. `length`: places that share it.
struct Halo {
  Reading size;
  double length = 0;
  double l = 0, a = 0, b = 0;  // the direction
  base::Rect where;
};
Halo haloOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline);

/// Loose pieces beside the subject and pinholes in it: px² and how far off.
struct Leftover {
  base::Rect where;
  double areaPx = 0;
  bool hole = false;
  double awayPx = 0;
};
/// Pieces of coverage above one tenth, apart from every body of at least a hundredth of all that is covered. Pieces that lie
/// within 4 px of a body's hair (where coverage is fractional over an area) are strands, not leftovers.
std::vector<Leftover> leftoversOf(const image::Raster<float>& colours);

}  // namespace hseam::measure
