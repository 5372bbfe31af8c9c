#pragma once
// Input of readings: a picture with a mask of the px that count, and those px as L*a*b*.

#include <cstdint>
#include <vector>

#include "core/image/raster.h"

namespace hseam::measure {

/// Straight sRGB-encoded colours 0..1 with coverage (4 channels), and a byte a pixel: not 0 where it counts. Both of one size.
/// The rasters must outlive it.
struct Part {
  const image::Raster<float>& colours;
  const image::Raster<std::uint8_t>& counts;
};

/// CIE L*a*b* (D50) of the pixels that count, every `step`-th of every `step`-th row.
struct Population {
  std::vector<float> l, a, b;
  std::size_t size() const { return l.size(); }
};
Population populationOf(const Part& part, int step = 1);

/// The value below which a share (0..1) of them lies; the values are reordered. Not for none.
float quantile(std::vector<float> values, double share);

/// Where coverage is at least `least`, and every pixel within `px` around it too: the inside of a subject.
image::Raster<std::uint8_t> inside(const image::Raster<float>& colours, float least, int px);
/// Px within `px` of what counts in `what`, without those that count in `without`.
image::Raster<std::uint8_t> ringAround(const image::Raster<std::uint8_t>& what, int px,
                                       const image::Raster<std::uint8_t>& without);

/// CIE L* of each pixel, a plane of the colours' size.
image::Raster<float> lightnessOf(const image::Raster<float>& colours);

}  // namespace hseam::measure
