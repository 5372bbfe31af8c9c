#pragma once
// A subject's outline: softness, and loose pieces around it.

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

/// A loose piece beside the subject or a pinhole in it.
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
