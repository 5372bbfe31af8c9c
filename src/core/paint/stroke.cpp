#include "core/paint/stroke.h"

#include <algorithm>
#include <cmath>

namespace hseam::paint {
namespace {

using base::Rect;

struct Radii {
  double inner, outer;
};
// Softness takes at least one pixel, half of it inside the radius, so that even a hard tip has a smooth edge.
Radii tipRadii(double radius, double hardness) {
  const double inner = std::min(radius * hardness, radius - 0.5);
  return {inner, std::max(radius, inner + 1)};
}

// The tip swept along a segment, its radius changing evenly: nearest point on the segment decides.
class Sweep {
 public:
  struct End {
    base::Point at;
    double radius, strength;
  };
  Sweep(const End& from, const End& to, double hardness)
      : from_(from), to_(to), hardness_(hardness), even_(from.radius == to.radius) {
    dx_ = to.at.x - from.at.x, dy_ = to.at.y - from.at.y;
    const double length2 = dx_ * dx_ + dy_ * dy_;
    perLength2_ = length2 > 0 ? 1 / length2 : 0;
    const auto [inner, outer] = tipRadii(std::max(from.radius, to.radius), hardness);
    inner2_ = inner > 0 ? inner * inner : -1;
    outer2_ = outer * outer;
  }

  // 0..255
  std::uint8_t at(double x, double y) const {
    const double px = x - from_.at.x, py = y - from_.at.y;
    const double t = std::clamp((px * dx_ + py * dy_) * perLength2_, 0.0, 1.0);
    const double qx = px - t * dx_, qy = py - t * dy_, distance2 = qx * qx + qy * qy;
    if (distance2 >= outer2_) return 0;
    const double strength = from_.strength + t * (to_.strength - from_.strength);
    // Most of a large tip is its middle: that needs no root.
    if (even_ && distance2 <= inner2_) return std::uint8_t(std::lround(strength * 255));
    return std::uint8_t(std::lround(tipProfile(std::sqrt(distance2), from_.radius + t * (to_.radius - from_.radius), hardness_) *
                                    strength * 255));
  }
  Rect bounds() const {
    const double r = std::sqrt(outer2_) + 1;
    const int l = int(std::floor(std::min(from_.at.x, to_.at.x) - r)), t = int(std::floor(std::min(from_.at.y, to_.at.y) - r));
    return {l, t, int(std::ceil(std::max(from_.at.x, to_.at.x) + r)) - l, int(std::ceil(std::max(from_.at.y, to_.at.y) + r)) - t};
  }

 private:
  End from_, to_;
  double hardness_, dx_, dy_, perLength2_, inner2_, outer2_;
  bool even_;
};

}  // namespace

double tipProfile(double distance, double radius, double hardness) {
  const auto [inner, outer] = tipRadii(radius, hardness);
  if (distance <= inner) return 1;
  if (distance >= outer) return 0;
  const double t = (outer - distance) / (outer - inner);
  return t * t * (3 - 2 * t);
}

Stroke::Stroke(image::TiledImage before, Tip tip, Pressure pressure, std::uint8_t value, bool flat)
    : before_(std::move(before)), now_(before_), tip_(tip), pressure_(pressure), value_(value), flat_(flat) {}

base::Result<Rect> Stroke::to(const Sample& sample, base::Executor& executor) {
  const auto end = [&](const Sample& s) {
    return Sweep::End{s.at, std::max(0.5, tip_.sizePx / 2 * (pressure_ == Pressure::size ? s.pressure : 1)),
                      tip_.strength * (pressure_ == Pressure::strength ? s.pressure : 1)};
  };
  const Sweep sweep(end(down_ ? last_ : sample), end(sample), flat_ ? 1.0 : tip_.hardness);
  down_ = true;
  last_ = sample;
  const Rect area = sweep.bounds().intersected(Rect::of(before_.size()));
  if (area.empty()) return area;
  image::ImageEditor editor(now_);
  bool any = false;
  constexpr int kSide = image::kTileSide;
  for (int row = area.y / kSide; row * kSide < area.bottom(); ++row) {
    for (int column = area.x / kSide; column * kSide < area.right(); ++column) {
      HSEAM_TRY(const bool changed, touchTile(editor, column, row, area, [&](double x, double y) { return sweep.at(x, y); }));
      any |= changed;
    }
  }
  if (!any) return Rect{};
  HSEAM_TRY(now_, std::move(editor).commit(executor));
  return area;
}

// True if a pixel of the tile took a stronger touch than before.
template <class At>
base::Result<bool> Stroke::touchTile(image::ImageEditor& editor, int column, int row, const Rect& area, const At& at) {
  constexpr int kSide = image::kTileSide;
  const Rect part = Rect{column * kSide, row * kSide, kSide, kSide}.intersected(area);
  Coverage& touched = touched_[{column, row}];
  if (touched.empty()) touched.resize(image::kTilePixels);
  std::byte* painted = nullptr;
  std::optional<image::TilePin> before;
  for (int y = part.y; y < part.bottom(); ++y) {
    const std::size_t line = std::size_t(y - row * kSide) * kSide - std::size_t(column) * kSide;
    for (int x = part.x; x < part.right(); ++x) {
      std::uint8_t& t = touched[line + std::size_t(x)];
      if (t == 255) continue;
      const std::uint8_t c = at(x + 0.5, y + 0.5);
      if (c <= t) continue;
      t = c;
      if (!painted) {
        HSEAM_TRY(before, image::pin(before_.level(0).tile(column, row)));
        HSEAM_TRY(painted, editor.tile(column, row));
      }
      const int old = int(before->isUniform() ? *before->value() : before->data()[line + std::size_t(x)]);
      const int now =
          flat_ ? (t >= 128 ? int(value_) : old) : int(std::lround(float(old) + float(value_ - old) * (float(t) / 255.f)));
      painted[line + std::size_t(x)] = std::byte(now);
    }
  }
  return painted != nullptr;
}

image::TiledImage filled(const image::TiledImage& coverage, std::uint8_t value) {
  return image::uniformCoverage(coverage.size(), value, coverage.memory());
}

}  // namespace hseam::paint
