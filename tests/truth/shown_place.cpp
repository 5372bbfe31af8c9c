#include "truth/shown_place.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"

namespace hseam::test {

ShownPlace::ShownPlace(std::uint64_t seed, base::Size size)
    : columns_(size.width / kCell + 1), rows_(size.height / kCell + 1), cells_(std::size_t(columns_) * std::size_t(rows_)) {
  Noise noise(seed);
  const int stones = size.width * size.height / 300;
  for (int i = 0; i < stones; ++i) {
    const Stone s{noise.unit() * size.width,
                  noise.unit() * size.height,
                  2 + 14 * noise.unit() * noise.unit(),
                  {noise.unit(), noise.unit(), noise.unit()}};
    const double reach = s.r + 6;
    for (int row = std::max(0, int((s.y - reach) / kCell)); row <= std::min(rows_ - 1, int((s.y + reach) / kCell)); ++row) {
      for (int column = std::max(0, int((s.x - reach) / kCell)); column <= std::min(columns_ - 1, int((s.x + reach) / kCell));
           ++column)
        cells_[std::size_t(row) * std::size_t(columns_) + std::size_t(column)].push_back(s);
    }
  }
  for (int i = 0; i < 6; ++i) waves_.push_back({noise.unit() * 0.08 - 0.04, noise.unit() * 0.08 - 0.04, noise.unit() * 6.28});
}

double ShownPlace::light(double x, double y, int c) const {
  double v = 0.28;
  for (const auto& w : waves_) v += 0.02 * std::sin(w[0] * x + w[1] * y + w[2] + c);
  const int column = std::clamp(int(x / kCell), 0, columns_ - 1), row = std::clamp(int(y / kCell), 0, rows_ - 1);
  for (const Stone& s : cells_[std::size_t(row) * std::size_t(columns_) + std::size_t(column)]) {
    const double d = std::hypot(x - s.x, y - s.y) - s.r;
    if (d < 6) v += (0.6 * s.colour[std::size_t(c)] - 0.6 * v) / (1 + std::exp(d / 0.7));
  }
  return std::clamp(v, 0.01, 0.9);
}

image::TiledImage ShownPlace::frame(base::Size size, const Shot& shot, std::uint64_t seed) const {
  Noise noise(seed);
  return picture(size.width, size.height, 3, [&](int px, int py, int c) {
    base::Point p = shot.toBase.map({px + 0.5, py + 0.5});
    if (shot.seenFrom) p = shot.seenFrom(p);
    double v = shot.before ? shot.before(px + 0.5, py + 0.5, c) : -1;
    if (v < 0) v = light(p.x, p.y, c);
    v *= std::exp2(shot.stops + (c == 0 ? shot.redStops : (c == 2 ? shot.blueStops : 0)));
    // The sum of four even numbers of variance 1/12 each.
    const double grain = shot.noise * std::sqrt(3.0) * (noise.unit() + noise.unit() + noise.unit() + noise.unit() - 2);
    return 255 * std::clamp(image::encodedFromLinear(std::min(v, 1.0)) + grain, 0.0, 1.0);
  });
}

}  // namespace hseam::test
