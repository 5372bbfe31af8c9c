#pragma once
// Conversion between stored pixels and planes, a run of a row at a time. The same bits on every instruction set.

#include <cstddef>
#include <cstdint>

#include "core/image/pixel_format.h"
#include "core/render/planes.h"

namespace hseam::render {

/// Where a run's samples go: red, green, blue, alpha. Pictures without alpha leave alpha alone.
struct PlaneRun {
  float* plane[4];
};
inline PlaneRun runOf(Planes& planes, long at) {
  return {{planes.colour(0) + at, planes.colour(1) + at, planes.colour(2) + at, planes.colour(3) + at}};
}

/// `count` pixels of a colour format as 0..1; alpha is multiplied in.
void unpackColours(image::PixelFormat format, const std::byte* pixels, int count, const PlaneRun& to);
/// to[i] *= coverage of a grey format.
void timesCoverage(image::PixelFormat format, const std::byte* pixels, int count, float* to);

/// 0xffRRGGBB of `count` pixels from `first` on, alpha left out, rounded to the nearest.
void packRgb32(const Planes& planes, int first, int count, std::uint32_t* to);

}  // namespace hseam::render
