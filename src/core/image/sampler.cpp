#include "core/image/sampler.h"

#include <algorithm>
#include <cmath>

namespace hseam::image {

float Sampler::pixel(int x, int y, int channel) {
  const base::Size size = image_.size();
  x = std::clamp(x, 0, size.width - 1);
  y = std::clamp(y, 0, size.height - 1);
  const auto& level = image_.level(0);
  const int column = x / kTileSide, row = y / kTileSide, key = row * level.columns + column;
  auto found = pins_.find(key);
  if (found == pins_.end()) {
    auto read = pin(level.tile(column, row));
    if (!read.ok()) {
      failed_ = true;
      return 0;
    }
    found = pins_.emplace(key, std::move(read).value()).first;
  }
  const TilePin& p = found->second;
  const std::size_t step = bytesOf(image_.format()), at = std::size_t(y % kTileSide * kTileSide + x % kTileSide) * step;
  const std::byte* px = p.isUniform() ? p.value() : p.data() + at;
  if (!isWide(image_.format())) return float(std::to_integer<int>(px[channel])) / 255.f;
  return float(reinterpret_cast<const std::uint16_t*>(px)[channel]) / 65535.f;
}

float Sampler::at(double x, double y, int channel) {
  const double fx = x - 0.5, fy = y - 0.5;
  const int ix = int(std::floor(fx)), iy = int(std::floor(fy));
  const float u = float(fx - ix), v = float(fy - iy);
  const float top = pixel(ix, iy, channel) * (1 - u) + pixel(ix + 1, iy, channel) * u;
  const float bottom = pixel(ix, iy + 1, channel) * (1 - u) + pixel(ix + 1, iy + 1, channel) * u;
  return top * (1 - v) + bottom * v;
}

}  // namespace hseam::image
