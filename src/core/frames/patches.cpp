#include "core/frames/patches.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/frames/cubic.h"

namespace hseam::frames {
namespace {

using image::Raster;

constexpr int kHalf = 8, kSide = 2 * kHalf + 1, kCount = kSide * kSide;
constexpr int kMostSteps = 14;
constexpr double kFarthestPx = 6;                  // from the guess
constexpr double kAlike = 0.8;                     // correlation from which a patch counts as found
constexpr float kBlack = 0.015f, kWhite = 0.985f;  // beyond, a camera has cut off

struct Template {
  std::array<float, kCount> value{}, dx{}, dy{}, weight{};
  double xx = 0, xy = 0, yy = 0;
  bool good = false;
};

// How much a pixel of a patch counts.
std::array<float, kCount> bellOf() {
  std::array<float, kCount> w{};
  for (int i = 0; i < kCount; ++i) {
    const int dx = i % kSide - kHalf, dy = i / kSide - kHalf;
    w[std::size_t(i)] = std::exp(-float(dx * dx + dy * dy) / (2 * 5.f * 5.f));
  }
  return w;
}

Template templateAt(const Raster<float>& from, int x, int y) {
  static const std::array<float, kCount> bell = bellOf();
  Template t;
  if (x < kHalf + 1 || y < kHalf + 1 || x + kHalf + 1 >= from.width() || y + kHalf + 1 >= from.height()) return t;
  int cut = 0;
  std::size_t i = 0;
  for (int dy = -kHalf; dy <= kHalf; ++dy) {
    for (int dx = -kHalf; dx <= kHalf; ++dx, ++i) {
      const float* p = from.at(x + dx, y + dy);
      t.value[i] = *p;
      t.dx[i] = (p[1] - p[-1]) / 2;
      t.dy[i] = (*from.at(x + dx, y + dy + 1) - *from.at(x + dx, y + dy - 1)) / 2;
      t.weight[i] = bell[i];
      if (*p < kBlack || *p > kWhite) {
        t.weight[i] = 0;
        ++cut;
      }
      t.xx += double(t.weight[i] * t.dx[i] * t.dx[i]);
      t.xy += double(t.weight[i] * t.dx[i] * t.dy[i]);
      t.yy += double(t.weight[i] * t.dy[i] * t.dy[i]);
    }
  }
  t.good = cut < kCount / 4 && t.xx * t.yy - t.xy * t.xy > 1e-10;
  return t;
}

// What lies at a place of the other picture, over the same px as the template.
bool patchAt(const Raster<float>& to, base::Point centre, const std::array<double, 4>& a, std::array<float, kCount>& out) {
  std::size_t i = 0;
  for (int dy = -kHalf; dy <= kHalf; ++dy) {
    for (int dx = -kHalf; dx <= kHalf; ++dx, ++i) {
      if (!cubicAt(to, centre.x + a[0] * dx + a[1] * dy, centre.y + a[2] * dx + a[3] * dy, out[i])) return false;
    }
  }
  return true;
}

// other ≈ gain · template + offset, weighted; correlation and what is left over.
struct Brightness {
  double gain = 1, offset = 0, correlation = 0, weights = 0;
};
Brightness brightness(const Template& t, const std::array<float, kCount>& other, const std::array<float, kCount>& w) {
  double s = 0, a = 0, b = 0, aa = 0, ab = 0, bb = 0;
  for (std::size_t i = 0; i < kCount; ++i) {
    const double k = double(w[i]), x = double(t.value[i]), y = double(other[i]);
    s += k, a += k * x, b += k * y, aa += k * x * x, ab += k * x * y, bb += k * y * y;
  }
  if (s <= 0) return {};
  const double va = aa / s - a / s * (a / s), vb = bb / s - b / s * (b / s), cov = ab / s - a / s * (b / s);
  if (va <= 1e-9 || vb <= 1e-9) return {};
  return {cov / va, b / s - cov / va * (a / s), cov / std::sqrt(va * vb), s};
}

Tracked track(const Raster<float>& from, base::Point place, const Raster<float>& to, const Homography& guess) {
  const int x = int(std::floor(place.x)), y = int(std::floor(place.y));
  const Template t = templateAt(from, x, y);
  Tracked f;
  if (!t.good) return f;
  const base::Point centre{x + 0.5, y + 0.5}, begin = guess.map(centre);
  const base::Point right = guess.map({centre.x + 1, centre.y}), down = guess.map({centre.x, centre.y + 1});
  const std::array<double, 4> a{right.x - begin.x, down.x - begin.x, right.y - begin.y, down.y - begin.y};
  f.to = begin;
  std::array<float, kCount> other;
  Brightness b;
  double left = 0, xx = 0, xy = 0, yy = 0;
  for (int step = 0; step < kMostSteps; ++step) {
    if (!patchAt(to, f.to, a, other)) return f;
    std::array<float, kCount> w = t.weight;
    for (std::size_t i = 0; i < kCount; ++i) {
      if (other[i] < kBlack || other[i] > kWhite) w[i] = 0;
    }
    b = brightness(t, other, w);
    if (b.gain < 0.2 || b.gain > 5) return f;
    double gx = 0, gy = 0;
    left = xx = xy = yy = 0;
    for (std::size_t i = 0; i < kCount; ++i) {
      const double e = double(other[i]) - b.gain * double(t.value[i]) - b.offset, k = double(w[i]);
      const double dx = b.gain * double(t.dx[i]), dy = b.gain * double(t.dy[i]);
      gx += k * e * dx, gy += k * e * dy;
      xx += k * dx * dx, xy += k * dx * dy, yy += k * dy * dy;
      left += k * e * e;
    }
    const double det = xx * yy - xy * xy;
    if (det <= 1e-14) return f;
    const double ux = (yy * gx - xy * gy) / det, uy = (xx * gy - xy * gx) / det;  // px of `from`
    f.to.x -= a[0] * ux + a[1] * uy;
    f.to.y -= a[2] * ux + a[3] * uy;
    if (std::hypot(f.to.x - begin.x, f.to.y - begin.y) > kFarthestPx) return f;
    if (ux * ux + uy * uy < 1e-6) {
      f.found = b.correlation > kAlike;
      break;
    }
  }
  const double det = xx * yy - xy * xy;
  f.sigmaPx = std::sqrt(left / b.weights * (xx + yy) / std::max(det, 1e-14)) * 0.5;
  return f;
}

}  // namespace

std::vector<base::Point> distinctPlaces(const Raster<float>& luma, int wanted) {
  const int width = luma.width(), height = luma.height();
  const double cell = std::sqrt(double(width) * height / std::max(1, wanted));
  const int columns = std::max(1, int(width / cell)), rows = std::max(1, int(height / cell));
  struct Best {
    double score = 0;
    base::Point at;
  };
  std::vector<Best> best(std::size_t(columns) * std::size_t(rows));
  constexpr int kReach = 3, kStep = 2, kRim = kHalf + 2;
  for (int y = kRim; y < height - kRim; y += kStep) {
    for (int x = kRim; x < width - kRim; x += kStep) {
      double xx = 0, xy = 0, yy = 0;
      for (int dy = -kReach; dy <= kReach; dy += 2) {
        for (int dx = -kReach; dx <= kReach; dx += 2) {
          const float* p = luma.at(x + dx, y + dy);
          const double gx = double(p[1] - p[-1]), gy = double(*luma.at(x + dx, y + dy + 1) - *luma.at(x + dx, y + dy - 1));
          xx += gx * gx, xy += gx * gy, yy += gy * gy;
        }
      }
      const double score = (xx + yy) / 2 - std::sqrt((xx - yy) * (xx - yy) / 4 + xy * xy);  // the smaller eigenvalue
      Best& b = best[std::size_t(std::min(rows - 1, y * rows / height)) * std::size_t(columns) +
                     std::size_t(std::min(columns - 1, x * columns / width))];
      if (score > b.score) b = {score, {x + 0.5, y + 0.5}};
    }
  }
  double strongest = 0;
  for (const Best& b : best) strongest = std::max(strongest, b.score);
  std::vector<base::Point> out;
  for (const Best& b : best) {
    if (b.score > strongest * 1e-4 && b.score > 1e-5) out.push_back(b.at);
  }
  return out;
}

std::vector<Tracked> tracked(const Raster<float>& from, const std::vector<base::Point>& places, const Raster<float>& to,
                             const Homography& guess, base::Executor& executor) {
  std::vector<Tracked> out(places.size());
  constexpr std::size_t kBlock = 32;
  executor.forEach(int((places.size() + kBlock - 1) / kBlock), [&](int block) {
    const std::size_t end = std::min(places.size(), std::size_t(block + 1) * kBlock);
    for (std::size_t i = std::size_t(block) * kBlock; i < end; ++i) out[i] = track(from, places[i], to, guess);
  });
  return out;
}

}  // namespace hseam::frames
