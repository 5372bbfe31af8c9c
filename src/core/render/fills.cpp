#include "core/render/fills.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"

namespace hseam::render {
namespace {

using base::Rect;

void paint(const scene::SolidFill& f, const Rect&, int, Planes& out) {
  for (int c = 0; c < 3; ++c) std::fill_n(out.colour(c), out.count(), float(f.colour[std::size_t(c)]));
  std::fill_n(out.alpha(), out.count(), 1.f);
}

void paint(const scene::GradientFill& f, const Rect& area, int level, Planes& out) {
  // The ramp once, in light.
  constexpr int kSteps = 1024;
  std::vector<std::array<float, 4>> ramp;
  for (int k = 0; k <= kSteps; ++k) {
    const double t = double(k) / kSteps;
    std::size_t i = 0;
    while (i + 2 < f.stops.size() && t > f.stops[i + 1].at) ++i;
    const auto &a = f.stops[i], &b = f.stops[i + 1];
    const double w = std::clamp((t - a.at) / (b.at - a.at), 0.0, 1.0);
    std::array<float, 4> v{};
    for (std::size_t c = 0; c < 3; ++c)
      v[c] = float(
          image::encodedFromLinear((1 - w) * image::linearFromEncoded(a.colour[c]) + w * image::linearFromEncoded(b.colour[c])));
    v[3] = float((1 - w) * a.coverage + w * b.coverage);
    ramp.push_back(v);
  }
  const double dx = f.to.x - f.from.x, dy = f.to.y - f.from.y, length = std::max(1e-9, dx * dx + dy * dy), px = 1 << level;
  for (int y = 0, i = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x, ++i) {
      const double qx = (area.x + x + 0.5) * px - f.from.x, qy = (area.y + y + 0.5) * px - f.from.y;
      double t =
          f.form == scene::GradientFill::Form::round ? std::sqrt((qx * qx + qy * qy) / length) : (qx * dx + qy * dy) / length;
      if (f.form == scene::GradientFill::Form::mirrored) t = std::abs(t);
      const auto& v = ramp[std::size_t(std::lround(std::clamp(t, 0.0, 1.0) * kSteps))];
      for (int c = 0; c < 4; ++c) out.colour(c)[i] = v[std::size_t(c)];
    }
  }
}

float latticeValue(std::int64_t x, std::int64_t y, std::uint64_t seed) {
  std::uint64_t z = seed * 0x9e3779b97f4a7c15u + std::uint64_t(x) * 0xd6e8feb86659fd93u + std::uint64_t(y) * 0xa0761d6478bd642fu;
  z = (z ^ (z >> 32)) * 0xd6e8feb86659fd93u;
  z = (z ^ (z >> 32)) * 0xd6e8feb86659fd93u;
  return float((z ^ (z >> 32)) >> 40) / float(1 << 24);
}

float noiseAt(double x, double y, std::uint64_t seed) {
  const auto ix = std::int64_t(std::floor(x)), iy = std::int64_t(std::floor(y));
  const auto smooth = [](double t) { return float(t * t * t * (t * (6 * t - 15) + 10)); };
  const float fx = smooth(x - double(ix)), fy = smooth(y - double(iy));
  const auto v = [&](int a, int b) { return latticeValue(ix + a, iy + b, seed); };
  return (v(0, 0) * (1 - fx) + v(1, 0) * fx) * (1 - fy) + (v(0, 1) * (1 - fx) + v(1, 1) * fx) * fy;
}

void paint(const scene::NoiseFill& f, const Rect& area, int level, Planes& out) {
  const double px = 1 << level;
  for (int y = 0, i = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x, ++i) {
      const double sx = (area.x + x + 0.5) * px, sy = (area.y + y + 0.5) * px;
      float sum = 0, weight = 0, w = 1;
      double size = f.sizePx;
      for (int k = 0; k < f.octaves; ++k, size /= 2, w /= 2) {
        weight += w;
        // Lumps smaller than a pixel of the level are their mean.
        sum += w * (size > 1.5 * px ? noiseAt(sx / size, sy / size, f.seed + std::uint64_t(k) * 7919) : 0.5f);
      }
      const float t = sum / weight;
      for (std::size_t c = 0; c < 3; ++c) out.colour(int(c))[i] = float(f.dark[c]) + t * float(f.light[c] - f.dark[c]);
      out.alpha()[i] = 1;
    }
  }
}

}  // namespace

void paintFill(const scene::Fill& fill, const Rect& area, int level, Planes& out) {
  std::visit([&](const auto& f) { paint(f, area, level, out); }, fill);
}

}  // namespace hseam::render
