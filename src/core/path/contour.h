#pragma once
// Where a coverage passes one half: closed polygons with sub-pixel points.

#include <vector>

#include "core/image/tiled_image.h"

namespace hseam::path {

/// A closed polygon, px of the picture (pixel centres at halves), the covered side on its right as it is walked (y points
/// down): outer outlines go clockwise, holes the other way.
struct Contour {
  std::vector<base::Point> points;
  double length = 0;  // px
  double area = 0;    // px², of a hole negative
};

/// All contours of a grey8 coverage at one half, longest first; those shorter than `shortestPx` are left out. Marching squares
/// with linear interpolation (Lorensen & Cline 1987, in the plane); beyond the picture nothing is covered. level: read that level
/// of detail; points come in px of level 0 all the same. Cost: the tiles of it that hold an edge. Errors: what reading says.
base::Result<std::vector<Contour>> contours(const image::TiledImage& coverage, double shortestPx, int level = 0);

}  // namespace hseam::path
