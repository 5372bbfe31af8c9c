#pragma once
// Values between pixels by Keys' cubic (1981) with a = −1/2.

#include <array>
#include <cmath>

#include "core/image/raster.h"

namespace hseam::frames {

inline std::array<float, 4> keysCubic(float t) {
  const float t2 = t * t, t3 = t2 * t;
  return {-0.5f * t3 + t2 - 0.5f * t, 1.5f * t3 - 2.5f * t2 + 1, -1.5f * t3 + 2 * t2 + 0.5f * t, 0.5f * t3 - 0.5f * t2};
}

/// Of a raster of one channel; pixel centres lie at halves. False: it or its neighbours lie off the raster.
inline bool cubicAt(const image::Raster<float>& r, double x, double y, float& out) {
  const double u = x - 0.5, v = y - 0.5;
  if (!(u >= 1 && v >= 1)) return false;
  const int ix = int(u), iy = int(v);
  if (ix + 2 >= r.width() || iy + 2 >= r.height()) return false;
  const auto wx = keysCubic(float(u - ix)), wy = keysCubic(float(v - iy));
  const float* row = r.at(ix - 1, iy - 1);
  float sum = 0;
  for (std::size_t k = 0; k < 4; ++k, row += r.width())
    sum += wy[k] * (wx[0] * row[0] + wx[1] * row[1] + wx[2] * row[2] + wx[3] * row[3]);
  out = sum;
  return true;
}

}  // namespace hseam::frames
