#include "core/measure/jaggedness.h"

#include <algorithm>
#include <cmath>

namespace hseam::measure {
namespace {

constexpr double kSmooth = 4;  // standard deviation, places along the outline
constexpr int kReach = 12;
constexpr double kOnGrid = 0.15;  // what follows no grid reads -0.6 to 0, steps 0.4 to 0.8
constexpr float kMostWide = 4;    // px: what fades further is hair or out of focus

float coverageAt(const image::Raster<float>& r, float x, float y) {
  const float px = std::clamp(x - 0.5f, 0.f, float(r.width() - 1)), py = std::clamp(y - 0.5f, 0.f, float(r.height() - 1));
  const int ix = std::min(int(px), r.width() - 2), iy = std::min(int(py), r.height() - 2);
  const float fx = px - float(ix), fy = py - float(iy);
  const auto a = [&](int u, int v) { return r.at(ix + u, iy + v)[3]; };
  return (a(0, 0) * (1 - fx) + a(1, 0) * fx) * (1 - fy) + (a(0, 1) * (1 - fx) + a(1, 1) * fx) * fy;
}

// Where along the normal coverage passes one half; nothing within 3 px.
std::optional<float> crossing(const image::Raster<float>& r, const OutlinePlace& p) {
  constexpr float kStep = 0.25f;
  float before = coverageAt(r, p.x - 3 * p.nx, p.y - 3 * p.ny);
  for (int k = 1; k <= 24; ++k) {
    const float t = -3 + kStep * float(k), now = coverageAt(r, p.x + t * p.nx, p.y + t * p.ny);
    if (before >= 0.5f && now < 0.5f) return t - kStep * (0.5f - now) / std::max(1e-6f, before - now);
    before = now;
  }
  return std::nullopt;
}

struct Crossing {
  double x = 0, y = 0;
  bool counts = false;
};
// Directions of a place of the outline: to the next one, and over about 10 px.
struct Directions {
  double here = 0, nearby = 0;
};
Directions directionsAt(const std::vector<Crossing>& at, std::size_t i) {
  double x = 0, y = 0;
  for (std::size_t k = 1; k <= std::size_t(kReach); ++k) {
    const double w = std::exp(-0.5 * double(k * k) / (kSmooth * kSmooth));
    x += w * (at[i + k].x - at[i - k].x), y += w * (at[i + k].y - at[i - k].y);
  }
  return {std::atan2(at[i + 1].y - at[i].y, at[i + 1].x - at[i].x), std::atan2(y, x)};
}

// Steps of a mask run along its rows, columns and diagonals whatever way the outline goes; what is rough by nature (fur, bark)
// follows no such grid. The mean of cos 8 times the angle to the grid where the outline nearby lies across it: near 1 for steps,
// below 0 for anything else. The grid may be turned.
double followsAGrid(const std::vector<Directions>& directions) {
  constexpr int kTurns = 6;  // within an eighth of a circle
  constexpr std::size_t kLeast = 40;
  double most = -1;
  for (int turn = 0; turn < kTurns; ++turn) {
    const double by = M_PI / 4 * turn / kTurns;
    double sum = 0;
    std::size_t n = 0;
    for (const Directions& d : directions) {
      if (std::cos(8 * (d.nearby - by)) > 0) continue;
      sum += std::cos(8 * (d.here - by)), ++n;
    }
    if (n >= kLeast) most = std::max(most, sum / double(n));
  }
  return most;
}

}  // namespace

Reading jaggednessOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline) {
  if (colours.width() < 4 || colours.height() < 4) return unavailable("it is too small");
  std::vector<Crossing> at(outline.size());
  for (std::size_t i = 0; i < outline.size(); ++i) {
    const OutlinePlace& p = outline[i];
    const auto t = p.widthPx > 0 && p.widthPx < kMostWide ? crossing(colours, p) : std::nullopt;
    if (t) at[i] = {double(p.x + *t * p.nx), double(p.y + *t * p.ny), true};
  }
  std::vector<float> off;
  std::vector<Directions> directions;
  std::vector<int> place;  // in the outline, of each
  for (std::size_t i = kReach; i + kReach < at.size(); ++i) {
    double x = 0, y = 0, weight = 0, turn = 0;
    bool whole = true;
    for (int k = -kReach; k <= kReach && whole; ++k) {
      const std::size_t j = i + std::size_t(k + kReach) - kReach;
      whole = at[j].counts && (k == -kReach || std::hypot(at[j].x - at[j - 1].x, at[j].y - at[j - 1].y) < 4);
      const double w = std::exp(-0.5 * k * k / (kSmooth * kSmooth));
      x += w * at[j].x, y += w * at[j].y, weight += w;
    }
    if (!whole) continue;
    const OutlinePlace &first = outline[i - kReach], &last = outline[i + kReach];
    turn = double(first.nx * last.nx + first.ny * last.ny);
    if (turn < 0.5) continue;  // a corner
    const OutlinePlace& p = outline[i];
    place.push_back(int(i));
    directions.push_back(directionsAt(at, i));
    off.push_back(float((at[i].x - x / weight) * double(p.nx) + (at[i].y - y / weight) * double(p.ny)));
  }
  if (off.size() < 60 || off.size() * 3 < outline.size()) return unavailable("most of its outline is no single edge");
  // A curve bends away from its own mean by about the same everywhere nearby; only what changes from place to place is jagged.
  std::vector<float> squares;
  squares.reserve(off.size());
  for (std::size_t i = 0; i < off.size(); ++i) {
    double sum = 0, weight = 0;
    for (int k = -kReach; k <= kReach; ++k) {
      const auto j = std::ptrdiff_t(i) + k;
      if (j < 0 || j >= std::ptrdiff_t(off.size()) || place[std::size_t(j)] != place[i] + k) continue;
      const double w = std::exp(-0.5 * k * k / (kSmooth * kSmooth));
      sum += w * double(off[std::size_t(j)]), weight += w;
    }
    const float by = off[i] - float(sum / weight);
    squares.push_back(by * by);
  }
  std::sort(squares.begin(), squares.end());
  double sum = 0;
  const auto keep = std::size_t(0.95 * double(squares.size()));
  for (std::size_t i = 0; i < keep; ++i) sum += double(squares[i]);
  const double rms = followsAGrid(directions) > kOnGrid ? std::sqrt(sum / double(std::max<std::size_t>(1, keep))) : 0;
  return available(rms, rms / std::sqrt(double(off.size()) / 10));
}

}  // namespace hseam::measure
