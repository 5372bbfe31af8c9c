#pragma once
// Small pictures for tests.

#include <cstdint>
#include <functional>

#include "core/base/executor.h"
#include "core/image/tiled_image.h"
#include "test_main.h"

namespace hseam::test {

inline std::shared_ptr<image::TileMemory> memory() {
  static const auto shared = image::TileMemory::create(std::size_t(2) << 30);
  return shared;
}
inline base::Executor& here() {
  static base::InlineExecutor executor;
  return executor;
}

/// A picture from a function of the pixel and the channel, 0..255.
inline image::Raster<std::uint8_t> raster(int width, int height, int channels,
                                          const std::function<double(int x, int y, int c)>& f) {
  image::Raster<std::uint8_t> r(width, height, channels);
  for (int y = 0; y < height; ++y) {
    for (int x = 0; x < width; ++x) {
      for (int c = 0; c < channels; ++c) r.at(x, y)[c] = std::uint8_t(std::clamp(f(x, y, c) + 0.5, 0.0, 255.0));
    }
  }
  return r;
}
inline image::TiledImage picture(const image::Raster<std::uint8_t>& r) {
  const auto format =
      r.channels() == 1 ? image::PixelFormat::grey8 : (r.channels() == 3 ? image::PixelFormat::rgb8 : image::PixelFormat::rgba8);
  return must(image::tiledFromRaster(r, format, memory(), here()));
}
inline image::TiledImage picture(int width, int height, int channels, const std::function<double(int, int, int)>& f) {
  return picture(raster(width, height, channels, f));
}

/// The same numbers on every run and machine.
class Noise {
 public:
  explicit Noise(std::uint64_t seed) : state_(seed * 2862933555777941757ull + 3037000493ull) {}
  std::uint32_t next() {
    state_ = state_ * 6364136223846793005ull + 1442695040888963407ull;
    return std::uint32_t(state_ >> 33);
  }
  double unit() { return double(next()) / 2147483648.0; }
  int below(int n) { return int(next() % std::uint32_t(n)); }

 private:
  std::uint64_t state_;
};

}  // namespace hseam::test
