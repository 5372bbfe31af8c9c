#include "core/image/sampler.h"

#include <algorithm>
#include <cmath>

namespace hseam::image {

// Neighbouring samples lie in one tile nearly always.
const TilePin* Sampler::tileAt(int column, int row) {
  const auto& level = image_.level(0);
  const int key = row * level.columns + column;
  if (key == lastKey_) return last_;
  auto found = pins_.find(key);
  if (found == pins_.end()) {
    auto read = pin(level.tile(column, row));
    if (!read.ok()) {
      failed_ = true;
      return nullptr;
    }
    found = pins_.emplace(key, std::move(read).value()).first;
  }
  lastKey_ = key;
  last_ = &found->second;  // a node of the map stays where it is
  return last_;
}

float Sampler::pixel(int x, int y, int channel) {
  const base::Size size = image_.size();
  x = std::clamp(x, 0, size.width - 1);
  y = std::clamp(y, 0, size.height - 1);
  const TilePin* p = tileAt(x / kTileSide, y / kTileSide);
  if (!p) return 0;
  const std::size_t at = std::size_t(y % kTileSide * kTileSide + x % kTileSide) * bytesOf(p->format());
  const std::byte* px = p->isUniform() ? p->value() : p->data() + at;
  if (!isWide(p->format())) return float(std::to_integer<int>(px[channel])) / 255.f;
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
