#include "core/render/caster.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hseam::render {
namespace {

using base::Point;
using base::Rect;
using image::Raster;

// Coverage of a level: mask times the picture's own alpha.
base::Result<Raster<float>> coverageOf(const scene::Layer& layer, int level, const Rect& area) {
  const auto& p = *layer.picture();
  Raster<float> out(area.width, area.height, 1, 1.f);
  if (layer.mask.acts()) {
    HSEAM_TRY(out, image::readFloat(layer.mask.coverage, level, area));
  }
  if (image::hasAlpha(p.source.format())) {
    HSEAM_TRY(const Raster<float> own, image::readFloat(p.source, level, area));
    for (std::size_t i = 0; i < out.pixels(); ++i) out.samples()[i] *= own.samples()[(i + 1) * std::size_t(own.channels()) - 1];
  }
  return out;
}

}  // namespace

Caster::Caster(const scene::Scene& scene, const scene::Layer& layer, ShapeOf shapeOf)
    : scene_(scene), layer_(layer), shapeOf_(std::move(shapeOf)), placesToScene_(scene::ownToScene(layer)) {
  const auto* p = layer.picture();
  painted_ = !p || p->warp || layer.mask.actsByNumbers() || layer.mask.numbers.heldAt;
  if (painted_) {
    size_ = scene.canvas;
    while (std::max(size_.width, size_.height) >> levels_ > 1) ++levels_;
  } else {
    size_ = p->source.size();
    toScene_ = placesToScene_;
    levels_ = p->source.levelCount();
  }
  scale_ = std::sqrt(std::abs(toScene_.determinant()));
  if (const auto back = toScene_.inverse()) {
    toLayer_ = *back;
    ok_ = scene::casts(layer);
  }
}

Rect Caster::wholeAt(int level) const {
  const base::Size size = painted_ ? base::Size{} : layer_.picture()->source.level(level).size;
  return painted_ ? Rect::of(size_).coarser(level) : Rect::of(size);
}

base::Result<Raster<float>> Caster::coverage(int level, const Rect& area) const {
  return painted_ ? shapeOf_(layer_, level, area) : coverageOf(layer_, level, area);
}

base::Status Caster::prepare(const Rect& area, double leastPx, double mostPx) {
  parts_.clear();
  const auto levelOf = [&](double width) { return std::clamp(int(std::floor(std::log2(std::max(1.0, width)))), 0, levels_ - 1); };
  const int first = levelOf(leastPx), last = std::min(levels_ - 1, levelOf(mostPx) + 1);
  for (int n = first; n <= last; ++n) {
    const Rect part = area.grown(2 << n).coarser(n).grown(2).intersected(wholeAt(n));
    if (part.empty()) {
      parts_.clear();
      return {};
    }
    HSEAM_TRY(Raster<float> values, coverage(n, part));
    parts_.push_back({n, part, std::move(values)});
  }
  return {};
}

float Caster::sampled(const Part& part, Point p) const {
  const double k = 1.0 / (1 << part.level), x = p.x * k - 0.5 - part.area.x, y = p.y * k - 0.5 - part.area.y;
  const int ix = int(std::floor(x)), iy = int(std::floor(y));
  const auto fx = float(x - ix), fy = float(y - iy);
  if (ix >= 0 && iy >= 0 && ix + 1 < part.area.width && iy + 1 < part.area.height) {
    const float* row = part.values.at(ix, iy);
    const float* next = row + part.area.width;
    return (row[0] * (1 - fx) + row[1] * fx) * (1 - fy) + (next[0] * (1 - fx) + next[1] * fx) * fy;
  }
  const auto value = [&](int a, int b) {
    return a < 0 || b < 0 || a >= part.area.width || b >= part.area.height ? 0.f : *part.values.at(a, b);
  };
  return (value(ix, iy) * (1 - fx) + value(ix + 1, iy) * fx) * (1 - fy) +
         (value(ix, iy + 1) * (1 - fx) + value(ix + 1, iy + 1) * fx) * fy;
}

Caster::Width Caster::widthOf(double px) const {
  const double level = std::log2(std::max(1.0, px)) - parts_.front().level;
  const double held = std::clamp(level, 0.0, double(parts_.size() - 1));
  const auto i = std::min(std::size_t(held), parts_.size() - 1);
  const auto w = i + 1 >= parts_.size() ? 0.f : float(held - double(i));
  return {i, w};
}

float Caster::at(Point p, const Width& width) const {
  const float a = sampled(parts_[width.part], p);
  return width.next <= 0 ? a : a * (1 - width.next) + width.next * sampled(parts_[width.part + 1], p);
}

float Caster::at(Point p, double widthPx) const {
  return parts_.empty() ? 0 : at(p, widthOf(widthPx));
}

std::pair<float, float> Caster::range(const Spot& s) const {
  if (parts_.empty()) return {0.f, 0.f};
  // Of the coarser one of the two levels that the widest disc reads; finer ones are what it is the mean of.
  const Part& part = parts_[std::min(widthOf(s.radius * 0.7).part + 1, parts_.size() - 1)];
  const double k = 1.0 / (1 << part.level);
  const int left = int(std::floor(s.left * k - 0.5)) - part.area.x, right = int(std::floor(s.right * k - 0.5)) + 1 - part.area.x;
  const int top = int(std::floor(s.top * k - 0.5)) - part.area.y, bottom = int(std::floor(s.bottom * k - 0.5)) + 1 - part.area.y;
  constexpr int kMany = 4096;
  if ((right - left + 1.0) * (bottom - top + 1.0) > kMany) return {0.f, 1.f};
  const bool outside = left < 0 || top < 0 || right >= part.area.width || bottom >= part.area.height;
  float low = outside ? 0.f : 1.f, high = 0;
  for (int y = std::max(0, top); y <= std::min(bottom, part.area.height - 1); ++y) {
    for (int x = std::max(0, left); x <= std::min(right, part.area.width - 1); ++x) {
      const float v = *part.values.at(x, y);
      low = std::min(low, v), high = std::max(high, v);
    }
  }
  return {low, high};
}

float Caster::disc(Point p, double radius, Detail detail) const {
  if (parts_.empty()) return 0;
  const double reach = 1.7 * radius + 2;
  if (p.x < -reach || p.y < -reach || p.x > size_.width + reach || p.y > size_.height + reach) return 0;
  if (radius < 0.5) return at(p, 1);
  const Width width = widthOf(radius * spread(detail));
  const float a = discIn(parts_[width.part], p, radius, detail);
  return width.next <= 0 ? a : a * (1 - width.next) + width.next * discIn(parts_[width.part + 1], p, radius, detail);
}

namespace {

constexpr std::size_t kMostPlaces = 37;

// One in the middle and rings about it, each place with the same part of the disc.
struct Places {
  std::vector<float> x{0}, y{0};
  explicit Places(std::initializer_list<int> rings) {
    int all = 1;
    for (const int n : rings) all += n;
    for (int within = 1; const int n : rings) {
      const double r = std::sqrt((within + n / 2.0) / all);
      for (int i = 0; i < n; ++i) {
        const double a = (double(i) / n + 0.06 * within) * 2 * M_PI;
        x.push_back(float(r * std::cos(a))), y.push_back(float(r * std::sin(a)));
      }
      within += n;
    }
  }
};

}  // namespace

float Caster::discIn(const Part& part, Point p, double radius, Detail detail) const {
  static const Places all[] = {Places({4, 8}), Places({6, 12}), Places({6, 12, 18})};
  const Places& places = all[int(detail)];
  const std::size_t count = places.x.size();
  const double k = 1.0 / (1 << part.level);
  const auto x = float(p.x * k - 0.5 - part.area.x), y = float(p.y * k - 0.5 - part.area.y), r = float(radius * k);
  float sum = 0;
  const bool inside = x >= r && y >= r && x + r + 1 < float(part.area.width - 1) && y + r + 1 < float(part.area.height - 1);
  if (!inside) {
    for (std::size_t i = 0; i < count; ++i)
      sum += sampled(part, {p.x + radius * double(places.x[i]), p.y + radius * double(places.y[i])});
    return sum / float(count);
  }
  // In three loops, of which the compiler makes vectors but for the reading itself.
  std::array<float, kMostPlaces> fx, fy, topLeft, topRight, bottomLeft, bottomRight;
  std::array<int, kMostPlaces> ix, iy;
  for (std::size_t i = 0; i < count; ++i) {
    const float px = x + r * places.x[i], py = y + r * places.y[i];
    ix[i] = int(px), iy[i] = int(py);
    fx[i] = px - float(ix[i]), fy[i] = py - float(iy[i]);
  }
  const float* values = part.values.at(0, 0);
  const int stride = part.area.width;
  for (std::size_t i = 0; i < count; ++i) {
    const float* row = values + iy[i] * stride + ix[i];
    topLeft[i] = row[0], topRight[i] = row[1], bottomLeft[i] = row[stride], bottomRight[i] = row[stride + 1];
  }
  for (std::size_t i = 0; i < count; ++i) {
    const float above = topLeft[i] + fx[i] * (topRight[i] - topLeft[i]);
    const float below = bottomLeft[i] + fx[i] * (bottomRight[i] - bottomLeft[i]);
    fy[i] = above + fy[i] * (below - above);
  }
  for (std::size_t i = 0; i < count; ++i) sum += fy[i];
  return sum / float(count);
}

}  // namespace hseam::render
