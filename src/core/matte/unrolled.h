#pragma once
// A cut's outline as evenly spaced places with normals, and strips of the picture along it.

#include <array>

#include "core/image/raster.h"
#include "core/path/contour.h"

namespace hseam::matte {

/// One place every px of arc, outlines after one another, the longest first.
struct Unrolled {
  struct Place {
    base::Point at;       // px of the picture
    base::Point outward;  // unit normal, from the covered side to the other
    int outline = 0;
  };
  std::vector<Place> places;
};

/// From the half-way line of a grey8 mask, at a level of about 1500 px a side, so that it does not follow single strands;
/// smoothed along (Gaussian, 4 px of arc; normals 10 px). Outlines shorter than 40 px are left out. Errors: what reading says.
base::Result<Unrolled> unrolled(const image::TiledImage& mask);

/// The picture along the outline: `count` columns, 2 · reach + 1 rows, the outside on top; 8-bit sRGB, the shown colours over
/// `ground` (sRGB-encoded, 0..1), mixed in linear light. Errors: what reading says.
base::Result<image::Raster<std::uint8_t>> edgeStrip(const Unrolled& outline, int first, int count, int reach,
                                                    const image::TiledImage& mask, const image::TiledImage& shown,
                                                    const std::array<double, 3>& ground);

}  // namespace hseam::matte
