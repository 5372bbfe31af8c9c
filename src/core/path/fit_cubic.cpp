#include "core/path/fit_cubic.h"

#include <algorithm>
#include <cmath>

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;

// The handles that fit best in the least squares sense (Schneider 1990, with directions left free where nothing binds them).
Cubic leastSquares(std::span<const Point> p, const std::vector<double>& t, const Ends& ends) {
  const Point first = p.front(), last = p.back();
  double b11 = 0, b12 = 0, b22 = 0;
  Point r1{0, 0}, r2{0, 0};
  for (std::size_t i = 0; i < p.size(); ++i) {
    const double u = t[i], s = 1 - u, b0 = s * s * s, b1 = 3 * s * s * u, b2 = 3 * s * u * u, b3 = u * u * u;
    const Point rest = p[i] - first * b0 - last * b3;
    b11 += b1 * b1, b12 += b1 * b2, b22 += b2 * b2;
    r1 = r1 + rest * b1, r2 = r2 + rest * b2;
  }
  const double det = b11 * b22 - b12 * b12, chord = length(last - first), third = chord / 3;
  const auto straight = [&] {
    const Point along = unit(last - first);
    return Cubic{first, first + ends.leaving.value_or(along) * third, last + ends.arriving.value_or(along * -1) * third, last};
  };
  if (p.size() < 4 || det < 1e-9 * b11 * b22) return straight();
  // Lengths along bound directions: the other handle is eliminated where it is free.
  Point a, b;
  if (!ends.leaving && !ends.arriving) {
    a = (r1 * b22 - r2 * b12) * (1 / det);
    b = (r2 * b11 - r1 * b12) * (1 / det);
  } else if (ends.leaving && !ends.arriving) {
    const double k = b11 - b12 * b12 / b22;
    const double reach = dot(*ends.leaving, r1 - r2 * (b12 / b22)) / k - dot(*ends.leaving, first);
    a = first + *ends.leaving * std::max(reach, 1e-3 * chord);
    b = (r2 - a * b12) * (1 / b22);
  } else if (!ends.leaving) {
    const double k = b22 - b12 * b12 / b11;
    const double reach = dot(*ends.arriving, r2 - r1 * (b12 / b11)) / k - dot(*ends.arriving, last);
    b = last + *ends.arriving * std::max(reach, 1e-3 * chord);
    a = (r1 - b * b12) * (1 / b11);
  } else {
    const Point u = *ends.leaving, v = *ends.arriving;
    const double uv = dot(u, v), x = dot(u, r1 - first * b11 - last * b12), y = dot(v, r2 - first * b12 - last * b22);
    const double below = b11 * b22 - b12 * b12 * uv * uv;
    a = first + u * std::max((x * b22 - y * b12 * uv) / below, 1e-3 * chord);
    b = last + v * std::max((y * b11 - x * b12 * uv) / below, 1e-3 * chord);
  }
  // Handles far away say that the system is nearly singular.
  if (length(a - first) > 3 * chord + 1 || length(b - last) > 3 * chord + 1) return straight();
  return {first, a, b, last};
}

double improved(const Cubic& c, Point p, double t) {
  const Point d = pointAt(c, t) - p, d1 = slopeAt(c, t);
  const double s = 1 - t;
  const Point d2 = ((c.p2 - c.p1 * 2 + c.p0) * s + (c.p3 - c.p2 * 2 + c.p1) * t) * 6;
  const double below = dot(d1, d1) + dot(d, d2);
  return std::abs(below) < 1e-12 ? t : std::clamp(t - dot(d, d1) / below, 0.0, 1.0);
}

}  // namespace

Fitted fitCubic(std::span<const Point> p, const Ends& ends, double goodEnough) {
  std::vector<double> t(p.size(), 0);
  for (std::size_t i = 1; i < p.size(); ++i) t[i] = t[i - 1] + length(p[i] - p[i - 1]);
  const double whole = t.back() > 0 ? t.back() : 1;
  for (double& v : t) v /= whole;
  return fitCubic(p, ends, goodEnough, std::move(t));
}

Fitted fitCubic(std::span<const Point> p, const Ends& ends, double goodEnough, std::vector<double> t) {
  Fitted best{{}, 1e300};
  const int rounds = goodEnough > 0 ? 16 : 80;
  for (int round = 0; round < rounds; ++round) {
    const Cubic c = leastSquares(p, t, ends);
    for (std::size_t i = 1; i + 1 < p.size(); ++i) t[i] = improved(c, p[i], t[i]);
    double deviation = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
      deviation = std::max(deviation, length(pointAt(c, t[i]) - p[i]));
      if (i == 0) continue;
      // Between two points the curve must not go astray either.
      const Point between = pointAt(c, (t[i - 1] + t[i]) / 2), middle = (p[i - 1] + p[i]) * 0.5;
      deviation = std::max(deviation, length(between - middle) - length(p[i] - p[i - 1]) / 2);
    }
    if (deviation < best.deviation) best = {c, deviation};
    // Far from it: no reparametrisation will bring it there.
    if (best.deviation <= goodEnough || (goodEnough > 0 && round > 2 && best.deviation > 8 * goodEnough)) break;
  }
  return best;
}

}  // namespace hseam::path
