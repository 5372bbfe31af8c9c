#include "core/paint/strand_tip.h"

#include <algorithm>
#include <cmath>

#include "core/paint/dice.h"

namespace hseam::paint {
namespace {

using image::Raster;

constexpr int kSide = StrandTip::kSide;
constexpr double kHazePx = 14;  // of the full tip

struct Point {
  double x, y;
};

// One strand: a way with a half width at every point of it, and how much it covers.
struct Strand {
  std::vector<Point> way;
  std::vector<double> half;
  double covers = 1;
};

void draw(Raster<float>& to, const Strand& s) {
  for (std::size_t i = 0; i + 1 < s.way.size(); ++i) {
    const Point a = s.way[i], b = s.way[i + 1];
    const double ha = s.half[i], hb = s.half[i + 1], reach = std::max(ha, hb) + 1;
    const int l = std::max(0, int(std::min(a.x, b.x) - reach)), r = std::min(kSide - 1, int(std::max(a.x, b.x) + reach));
    const int t = std::max(0, int(std::min(a.y, b.y) - reach)), d = std::min(kSide - 1, int(std::max(a.y, b.y) + reach));
    const double dx = b.x - a.x, dy = b.y - a.y, whole = std::max(1e-9, dx * dx + dy * dy);
    for (int y = t; y <= d; ++y) {
      for (int x = l; x <= r; ++x) {
        const double px = x + 0.5 - a.x, py = y + 0.5 - a.y, u = std::clamp((px * dx + py * dy) / whole, 0.0, 1.0);
        const double away = std::hypot(px - u * dx, py - u * dy), half = ha + u * (hb - ha);
        // A line thinner than a pixel covers a part of it.
        const double c = std::clamp(half + 0.5 - away, 0.0, std::min(1.0, 2 * half));
        *to.at(x, y) = std::max(*to.at(x, y), float(c * s.covers));
      }
    }
  }
}

struct Habit {
  int strands;
  double shortest, longest;  // shares of the height
  double roots;              // half the width they stand on, share of the side
  double half;               // px at the root
  double lean, bend;         // radians
};
constexpr Habit habitOf(Growth g) {
  switch (g) {
    case Growth::fur:
      return {46, 0.35, 0.75, 0.42, 1.6, 0.18, 0.35};
    case Growth::grass:
      return {9, 0.45, 0.97, 0.30, 4.6, 0.22, 0.75};
    case Growth::leaves:
      return {5, 0.55, 0.95, 0.12, 1.6, 0.55, 0.35};
    case Growth::wool:
      return {14, 0.25, 0.60, 0.40, 1.3, 0.35, 3.2};
    default:
      return {13, 0.55, 0.98, 0.26, 1.3, 0.14, 0.45};
  }
}

Strand strand(Growth g, const Habit& h, Dice& dice) {
  constexpr int kSteps = 40;
  Strand s;
  s.covers = 0.65 + 0.35 * dice.unit();
  double angle = -M_PI / 2 + h.lean * dice.spread();
  const double length = kSide * (h.shortest + (h.longest - h.shortest) * dice.unit()), bend = h.bend * dice.spread();
  Point p{kSide * (0.5 + h.roots * dice.spread()), kSide - 1.0};
  for (int i = 0; i <= kSteps; ++i) {
    const double u = double(i) / kSteps;
    s.way.push_back(p);
    const double leaf = std::sin(M_PI * std::clamp((u - 0.35) / 0.65, 0.0, 1.0));
    s.half.push_back(g == Growth::leaves ? 1.2 + 15 * leaf : std::max(0.25, h.half * std::pow(1 - u, 0.7)));
    // Wool curls more and more, the rest bends evenly.
    angle += bend / kSteps * (g == Growth::wool ? 2 * u + 0.5 : 1);
    p = {p.x + std::cos(angle) * length / kSteps, p.y + std::sin(angle) * length / kSteps};
  }
  return s;
}

Raster<float> halved(const Raster<float>& in) {
  Raster<float> out(in.width() / 2, in.height() / 2);
  for (int y = 0; y < out.height(); ++y) {
    for (int x = 0; x < out.width(); ++x)
      *out.at(x, y) =
          0.25f * (*in.at(2 * x, 2 * y) + *in.at(2 * x + 1, 2 * y) + *in.at(2 * x, 2 * y + 1) + *in.at(2 * x + 1, 2 * y + 1));
  }
  return out;
}

// Three box blurs are close to a Gaussian.
Raster<float> blurred(Raster<float> r, int radius) {
  std::vector<float> line(kSide);
  for (int pass = 0; pass < 6; ++pass) {
    const bool down = pass % 2;
    for (int i = 0; i < kSide; ++i) {
      const auto px = [&](int k) -> float& { return down ? *r.at(i, k) : *r.at(k, i); };
      float sum = 0;
      for (int k = -radius; k <= radius; ++k) sum += k >= 0 && k < kSide ? px(k) : 0;
      for (int k = 0; k < kSide; ++k) {
        line[std::size_t(k)] = sum / float(2 * radius + 1);
        sum += (k + radius + 1 < kSide ? px(k + radius + 1) : 0) - (k - radius >= 0 ? px(k - radius) : 0);
      }
      for (int k = 0; k < kSide; ++k) px(k) = line[std::size_t(k)];
    }
  }
  return r;
}

Raster<float> hazed(Raster<float> r, double haze) {
  if (haze <= 0) return r;
  const Raster<float> soft = blurred(r, int(kHazePx / 2));
  for (std::size_t i = 0; i < r.samples().size(); ++i)
    r.samples()[i] = std::max(r.samples()[i], std::min(1.f, 1.5f * soft.samples()[i]) * float(haze));
  return r;
}

}  // namespace

StrandTip::StrandTip(Raster<float> full) {
  levels_.push_back(std::move(full));
  while (levels_.back().width() > 16) levels_.push_back(halved(levels_.back()));
}

StrandTip StrandTip::grown(Growth growth, std::uint64_t seed, double haze) {
  Raster<float> r(kSide, kSide);
  Dice dice(seed);
  const Habit h = habitOf(growth);
  for (int i = 0; i < h.strands; ++i) draw(r, strand(growth, h, dice));
  return StrandTip(hazed(std::move(r), haze));
}

StrandTip StrandTip::from(const Raster<std::uint8_t>& coverage, double haze) {
  Raster<float> r(kSide, kSide);
  const double scale = double(std::max(coverage.width(), coverage.height())) / kSide;
  for (int y = 0; y < kSide && !coverage.empty(); ++y) {
    for (int x = 0; x < kSide; ++x) {
      // The mean over what falls into the pixel; the lower sides meet.
      const double l = coverage.width() / 2.0 + (x - kSide / 2.0) * scale, t = coverage.height() - (kSide - y) * scale;
      double sum = 0;
      int n = 0;
      for (int sy = int(std::floor(t)); sy < std::max(t + scale, std::floor(t) + 1); ++sy) {
        for (int sx = int(std::floor(l)); sx < std::max(l + scale, std::floor(l) + 1); ++sx, ++n) {
          if (sx >= 0 && sy >= 0 && sx < coverage.width() && sy < coverage.height()) sum += *coverage.at(sx, sy);
        }
      }
      *r.at(x, y) = n > 0 ? float(sum / n / 255) : 0.f;
    }
  }
  return StrandTip(hazed(std::move(r), haze));
}

float StrandTip::at(double across, double up, double length) const {
  std::size_t n = 0;
  while (n + 1 < levels_.size() && levels_[n].width() > 1.5 * length) ++n;
  const Raster<float>& r = levels_[n];
  const double x = (across + 0.5) * r.width() - 0.5, y = (1 - up) * r.height() - 0.5;
  const int x0 = int(std::floor(x)), y0 = int(std::floor(y));
  const float u = float(x - x0), v = float(y - y0);
  const auto px = [&](int i, int j) { return i >= 0 && j >= 0 && i < r.width() && j < r.height() ? *r.at(i, j) : 0.f; };
  return (1 - v) * ((1 - u) * px(x0, y0) + u * px(x0 + 1, y0)) + v * ((1 - u) * px(x0, y0 + 1) + u * px(x0 + 1, y0 + 1));
}

}  // namespace hseam::paint
