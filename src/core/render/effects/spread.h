#pragma once
// Convolution of a plane with a shape given as runs of rows.

#include <vector>

#include "core/base/geometry.h"

namespace hseam::render::effects {

/// One row of the shape, about its middle; the pixel k covers k − 0.5 to k + 0.5.
struct ShapeRun {
  int dy;
  double from, to;  // px
  double weight;    // of the row: how much of its height lies inside
  friend bool operator==(const ShapeRun&, const ShapeRun&) = default;
};

/// Each value becomes the mean over the shape about it, with the border repeated, in place; a plane of one value stays as it is.
/// plane: size.width · size.height floats. Sums are of single precision over one row. Costs as many
/// operations for each pixel as the shape has runs; runs that differ in the sign of dy alone cost one.
void spreadOver(float* plane, base::Size size, const std::vector<ShapeRun>& shape);

}  // namespace hseam::render::effects
