#include "core/matte/unrolled.h"

#include <algorithm>
#include <cmath>

#include "core/image/sampler.h"
#include "core/image/transfer.h"
#include "core/matte/closed_line.h"

namespace hseam::matte {
namespace {

using base::Point;
using image::Sampler;

}  // namespace

base::Result<Unrolled> unrolled(const image::TiledImage& mask) {
  constexpr double kWanted = 1500, kShortest = 40, kSmooth = 4, kNormals = 10;
  const base::Size size = mask.size();
  int level = 0;
  while (level + 1 < mask.levelCount() && std::max(size.width, size.height) / double(1 << level) > 1.5 * kWanted) ++level;
  HSEAM_TRY(const auto contours, path::contours(mask, kShortest, level));
  Unrolled out;
  for (std::size_t i = 0; i < contours.size(); ++i) {
    const auto even = resampled(contours[i].points, contours[i].length);
    const auto line = smoothed(even, kSmooth), wide = smoothed(even, kNormals);
    const std::size_t n = line.size();
    for (std::size_t k = 0; k < n; ++k) {
      const Point &a = wide[(k + n - 3) % n], &b = wide[(k + 3) % n];
      const double dx = b.x - a.x, dy = b.y - a.y, d = std::max(std::hypot(dx, dy), 1e-9);
      // The covered side is on the right of the way (y down): outwards is to its left.
      out.places.push_back({line[k], {dy / d, -dx / d}, int(i)});
    }
  }
  return out;
}

base::Result<image::Raster<std::uint8_t>> edgeStrip(const Unrolled& outline, int first, int count, int reach,
                                                    const image::TiledImage& mask, const image::TiledImage& shown,
                                                    const std::array<double, 3>& ground) {
  Sampler coverage(mask), colours(shown);
  std::array<float, 3> below;
  for (std::size_t c = 0; c < 3; ++c) below[c] = image::fastLinear(float(ground[c]));
  image::Raster<std::uint8_t> strip(count, 2 * reach + 1, 3);
  for (int i = 0; i < count; ++i) {
    const Unrolled::Place& p = outline.places[std::size_t(first) + std::size_t(i)];
    for (int row = 0; row <= 2 * reach; ++row) {
      const double d = reach - row, x = p.at.x + p.outward.x * d, y = p.at.y + p.outward.y * d;
      const float a = coverage.at(x, y, 0);
      std::uint8_t* to = strip.at(i, row);
      for (int c = 0; c < 3; ++c) {
        const float light = a * image::fastLinear(colours.at(x, y, c)) + (1 - a) * below[std::size_t(c)];
        to[c] = std::uint8_t(std::lround(std::clamp(image::fastEncoded(light), 0.f, 1.f) * 255));
      }
    }
  }
  if (coverage.failed() || colours.failed())
    return base::Error{base::Code::unreadable, "", "a part of the picture cannot be read"};
  return strip;
}

}  // namespace hseam::matte
