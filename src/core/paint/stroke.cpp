#include "core/paint/stroke.h"

#include <algorithm>
#include <cmath>

namespace hseam::paint {
namespace {

using base::Rect;
using image::Raster;

// The tip swept along a segment, its radius changing evenly: nearest point on the segment decides.
struct Sweep {
  base::Point from, to;
  double radiusFrom, radiusTo, strengthFrom, strengthTo, hardness;

  float at(double x, double y) const {
    const double dx = to.x - from.x, dy = to.y - from.y, length2 = dx * dx + dy * dy;
    const double t = length2 > 0 ? std::clamp(((x - from.x) * dx + (y - from.y) * dy) / length2, 0.0, 1.0) : 0;
    const double distance = std::hypot(x - from.x - t * dx, y - from.y - t * dy);
    return float(tipProfile(distance, radiusFrom + t * (radiusTo - radiusFrom), hardness) * (strengthFrom + t * (strengthTo - strengthFrom)));
  }
  Rect bounds() const {
    const double r = std::max(radiusFrom, radiusTo) + 1.5;
    const int l = int(std::floor(std::min(from.x, to.x) - r)), t = int(std::floor(std::min(from.y, to.y) - r));
    return {l, t, int(std::ceil(std::max(from.x, to.x) + r)) - l, int(std::ceil(std::max(from.y, to.y) + r)) - t};
  }
};

}  // namespace

double tipProfile(double distance, double radius, double hardness) {
  // Softness takes at least one pixel, half of it inside the radius, so that even a hard tip has a smooth edge.
  const double inner = std::min(radius * hardness, radius - 0.5), outer = std::max(radius, inner + 1);
  if (distance <= inner) return 1;
  if (distance >= outer) return 0;
  const double t = (outer - distance) / (outer - inner);
  return t * t * (3 - 2 * t);
}

Stroke::Stroke(image::TiledImage before, Tip tip, Pressure pressure, std::uint8_t value, bool flat)
    : before_(std::move(before)), touched_(image::uniformCoverage(before_.size(), 0, before_.memory())), now_(before_), tip_(tip), pressure_(pressure),
      value_(value), flat_(flat) {}

base::Result<Rect> Stroke::to(const Sample& sample, base::Executor& executor) {
  const Sample from = down_ ? last_ : sample;
  const auto radius = [&](const Sample& s) { return std::max(0.5, tip_.sizePx / 2 * (pressure_ == Pressure::size ? s.pressure : 1)); };
  const auto strength = [&](const Sample& s) { return tip_.strength * (pressure_ == Pressure::strength ? s.pressure : 1); };
  const Sweep sweep{from.at, sample.at, radius(from), radius(sample), strength(from), strength(sample), flat_ ? 1.0 : tip_.hardness};
  down_ = true;
  last_ = sample;
  const Rect area = sweep.bounds().intersected(Rect::of(before_.size()));
  if (area.empty()) return area;
  HSEAM_TRY(Raster<std::uint8_t> touched, image::read8(touched_, 0, area));
  HSEAM_TRY(Raster<std::uint8_t> painted, image::read8(before_, 0, area));
  executor.forEach(area.height, [&](int y) {
    std::uint8_t* t = touched.row(y);
    std::uint8_t* p = painted.row(y);
    for (int x = 0; x < area.width; ++x) {
      const float c = sweep.at(area.x + x + 0.5, area.y + y + 0.5);
      t[x] = std::max(t[x], std::uint8_t(std::lround(c * 255)));
      if (flat_) {
        p[x] = t[x] >= 128 ? value_ : p[x];
      } else {
        p[x] = std::uint8_t(std::lround(p[x] + (value_ - p[x]) * (t[x] / 255.f)));
      }
    }
  });
  HSEAM_TRY(touched_, image::withPixels(touched_, area, touched, executor));
  HSEAM_TRY(now_, image::withPixels(now_, area, painted, executor));
  return area;
}

image::TiledImage filled(const image::TiledImage& coverage, std::uint8_t value) { return image::uniformCoverage(coverage.size(), value, coverage.memory()); }

}  // namespace hseam::paint
