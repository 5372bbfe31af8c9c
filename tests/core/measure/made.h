#pragma once
// Pictures whose readings are known.

#include <functional>
#include <random>

#include "pictures.h"

namespace hseam::test {

using Raster = image::Raster<float>;
using Where = image::Raster<std::uint8_t>;

inline Raster made(int w, int h, const std::function<double(double, double, int)>& f) {
  Raster r(w, h, 4, 1.f);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      for (int c = 0; c < 3; ++c) r.at(x, y)[c] = float(std::clamp(f(x + 0.5, y + 0.5, c), 0.0, 1.0));
    }
  }
  return r;
}
inline Where all(const Raster& r) {
  return Where(r.width(), r.height(), 1, std::uint8_t(255));
}
inline void addNoise(Raster& r, double sigma, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<double> noise(0, sigma);
  for (std::size_t i = 0; i < r.samples().size(); i += 4) {
    const double n = noise(random);
    for (std::size_t c = 0; c < 3; ++c) r.samples()[i + c] = float(std::clamp(double(r.samples()[i + c]) + n, 0.0, 1.0));
  }
}
inline void round8(Raster& r) {
  for (float& v : r.samples()) v = std::round(v * 255) / 255;
}

}  // namespace hseam::test
