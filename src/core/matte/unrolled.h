#pragma once
// A cut's outline laid out straight: along it, and across it on its normals; and what can be read there.

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

/// From the half-way line of a grey8 mask, taken at a level of about 1500 px a side so that single strands do not lead it
/// astray; smoothed along (Gaussian, 4 px of arc; normals 10 px) so that tight turns do not swirl. Outlines shorter than
/// 40 px are left out. Errors: what reading says.
base::Result<Unrolled> unrolled(const image::TiledImage& mask);

/// Solid: crisp. Soft: wide, but even. Hair: strands, by how often coverage rises and falls across the outline.
enum class EdgeKind : std::uint8_t { solid, soft, hair };

struct EdgeReading {
  float softnessPx = 0;  // 10–90 % width of coverage along the normal, up to 0.5 px too wide under 2 px; 0: it does not pass both
  float halo = 0;        // CIEDE2000 of that part of the edge's colour that points from the inside's to the old background's
  EdgeKind kind = EdgeKind::solid;
  float confidence = 0;  // of the kind, 0..1: how far the readings around lie from where it would change
};

/// Readings for places [first, first + count). shown: the colours the layer shows; source: the picture as it came.
/// Reach: 24 px to each side. Errors: what reading says.
base::Result<std::vector<EdgeReading>> edgeReadings(const Unrolled& outline, int first, int count, const image::TiledImage& mask,
                                                    const image::TiledImage& shown, const image::TiledImage& source);

/// A run of places of one kind on one outline.
struct Stretch {
  int first = 0, count = 0;
  EdgeKind kind = EdgeKind::solid;
  float confidence = 0;  // mean
};

/// Readings of all places as stretches; runs shorter than 16 px go to the longer of their neighbours.
std::vector<Stretch> stretchesOf(const Unrolled& outline, const std::vector<EdgeReading>& readings);

/// "solid", "soft" or "hair".
const char* nameOf(EdgeKind kind);

/// The picture along the outline: `count` columns, 2 · reach + 1 rows, the outside on top; 8-bit sRGB, the shown colours over
/// `ground` (sRGB-encoded, 0..1), mixed in linear light. Errors: what reading says.
base::Result<image::Raster<std::uint8_t>> edgeStrip(const Unrolled& outline, int first, int count, int reach,
                                                    const image::TiledImage& mask, const image::TiledImage& shown,
                                                    const std::array<double, 3>& ground);

}  // namespace hseam::matte
