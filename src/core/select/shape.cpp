#include "core/select/shape.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace hseam::select {
namespace {

using base::Rect;
using image::Raster;
using image::TiledImage;

constexpr int kRowsPerPixel = 16;

struct Crossing {
  double x;
  int winding;
};

// Adds the share of each pixel between two x of one sample row, as differences: a pixel's share is the sum of all entries up
// to it. So a span costs the same however long it is.
void addSpan(std::vector<float>& differences, double from, double to, const Rect& area) {
  from = std::clamp(from - area.x, 0.0, double(area.width));
  to = std::clamp(to - area.x, 0.0, double(area.width));
  if (to <= from) return;
  const auto edge = [&](double x, float sign) {
    const auto pixel = std::size_t(x);
    const float inside = float(double(pixel) + 1 - x);
    differences[pixel] += sign * inside;
    differences[pixel + 1] += sign * (1 - inside);
  };
  edge(from, 1);
  edge(to, -1);
}

Rect boundsOf(const Outline& outline) {
  if (outline.size() < 3) return {};
  double l = 1e9, t = 1e9, r = -1e9, b = -1e9;
  for (const base::Point& p : outline) l = std::min(l, p.x), t = std::min(t, p.y), r = std::max(r, p.x), b = std::max(b, p.y);
  const int x = int(std::floor(l)), y = int(std::floor(t));
  return {x, y, int(std::ceil(r)) - x, int(std::ceil(b)) - y};
}

}  // namespace

Outline rectangleOutline(base::Point a, base::Point b) {
  return {a, {b.x, a.y}, b, {a.x, b.y}};
}

Outline ellipseOutline(base::Point a, base::Point b) {
  const double cx = (a.x + b.x) / 2, cy = (a.y + b.y) / 2, rx = std::abs(b.x - a.x) / 2, ry = std::abs(b.y - a.y) / 2;
  // Chords that leave the ellipse by less than 1/50 px.
  const int n = std::clamp(int(std::ceil(std::numbers::pi / std::acos(1 - 0.02 / std::max(1.0, std::max(rx, ry))))), 16, 2000);
  Outline out;
  for (int i = 0; i < n; ++i)
    out.push_back({cx + rx * std::cos(2 * std::numbers::pi * i / n), cy + ry * std::sin(2 * std::numbers::pi * i / n)});
  return out;
}

Raster<std::uint8_t> rasterise(const Outline& outline, const Rect& area) {
  Raster<std::uint8_t> out(area.width, area.height);
  std::vector<float> row(std::size_t(area.width) + 2);
  std::vector<Crossing> crossings;
  for (int y = 0; y < area.height; ++y) {
    std::fill(row.begin(), row.end(), 0.f);
    for (int s = 0; s < kRowsPerPixel; ++s) {
      const double at = area.y + y + (s + 0.5) / kRowsPerPixel;
      crossings.clear();
      for (std::size_t i = 0; i < outline.size(); ++i) {
        const base::Point &p = outline[i], &q = outline[(i + 1) % outline.size()];
        if ((p.y <= at) == (q.y <= at)) continue;
        crossings.push_back({p.x + (at - p.y) / (q.y - p.y) * (q.x - p.x), p.y < q.y ? 1 : -1});
      }
      std::sort(crossings.begin(), crossings.end(), [](const Crossing& a, const Crossing& b) { return a.x < b.x; });
      int winding = 0;
      for (std::size_t i = 0; i + 1 < crossings.size(); ++i) {
        winding += crossings[i].winding;
        if (winding != 0) addSpan(row, crossings[i].x, crossings[i + 1].x, area);
      }
    }
    float share = 0;
    for (int x = 0; x < area.width; ++x) {
      share += row[std::size_t(x)];
      *out.at(x, y) = std::uint8_t(std::lround(std::clamp(share / kRowsPerPixel, 0.f, 1.f) * 255));
    }
  }
  return out;
}

base::Result<TiledImage> combined(const TiledImage& base, const Rect& area, const Raster<std::uint8_t>& part, Combine how,
                                  base::Executor& executor) {
  CORE_CHECK(part.size() == base::Size({area.width, area.height}));
  if (how == Combine::replace || how == Combine::overlap) {
    // Nothing outside the part stays.
    const TiledImage nothing = image::uniformCoverage(base.size(), 0, base.memory());
    Raster<std::uint8_t> inside = part;
    if (how == Combine::overlap) {
      HSEAM_TRY(const Raster<std::uint8_t> old, image::read8(base, 0, area));
      for (std::size_t i = 0; i < inside.samples().size(); ++i)
        inside.samples()[i] = std::min(inside.samples()[i], old.samples()[i]);
    }
    return image::withPixels(nothing, area, inside, executor);
  }
  HSEAM_TRY(Raster<std::uint8_t> mixed, image::read8(base, 0, area));
  for (std::size_t i = 0; i < mixed.samples().size(); ++i) {
    std::uint8_t& m = mixed.samples()[i];
    const std::uint8_t p = part.samples()[i];
    m = how == Combine::add ? std::max(m, p) : std::min(m, std::uint8_t(255 - p));
  }
  return image::withPixels(base, area, mixed, executor);
}

base::Result<TiledImage> combined(const TiledImage& base, const Outline& outline, Combine how, base::Executor& executor) {
  const Rect area = boundsOf(outline).intersected(Rect::of(base.size()));
  if (area.empty())
    return how == Combine::overlap || how == Combine::replace ? image::uniformCoverage(base.size(), 0, base.memory()) : base;
  return combined(base, area, rasterise(outline, area), how, executor);
}

base::Result<TiledImage> inverted(const TiledImage& coverage, base::Executor& executor) {
  image::ImageEditor editor(coverage);
  const auto& level = coverage.level(0);
  for (int row = 0; row < level.rows; ++row) {
    for (int column = 0; column < level.columns; ++column) {
      HSEAM_TRY(const image::TilePin p, image::pin(level.tile(column, row)));
      image::Bytes bytes(image::kTilePixels);
      for (std::size_t i = 0; i < bytes.size(); ++i) bytes[i] = ~(p.isUniform() ? *p.value() : p.data()[i]);
      editor.setTile(column, row, std::move(bytes));
    }
  }
  return std::move(editor).commit(executor);
}

}  // namespace hseam::select
