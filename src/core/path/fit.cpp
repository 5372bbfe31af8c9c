#include "core/path/fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;

struct Fitted {
  Cubic cubic;
  double deviation = 0;
};

// What is known of a curve's ends: the direction in which it leaves or comes back, or nothing (at a corner any will do).
struct Ends {
  std::optional<Point> leaving, arriving;
};

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

// goodEnough 0: as close as it gets. t: where the points are along the curve, 0..1, to begin with.
Fitted fitCubic(std::span<const Point> p, const Ends& ends, double goodEnough, std::vector<double> t);

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
    for (std::size_t i = 0; i < p.size(); ++i) deviation = std::max(deviation, length(pointAt(c, t[i]) - p[i]));
    if (deviation < best.deviation) best = {c, deviation};
    // Far from it: no reparametrisation will bring it there.
    if (best.deviation <= goodEnough || (goodEnough > 0 && round > 2 && best.deviation > 8 * goodEnough)) break;
  }
  return best;
}

// The direction at point i of a closed polygon, from what lies within about `reach` px on the given side (0: both).
Point direction(std::span<const Point> p, std::ptrdiff_t i, double reach, int side) {
  const auto n = std::ptrdiff_t(p.size());
  const auto at = [&](std::ptrdiff_t k) { return p[std::size_t(((k % n) + n) % n)]; };
  const auto walk = [&](int step) {
    double gone = 0;
    std::ptrdiff_t k = i;
    while (gone < reach && std::abs(k - i) < n / 2) {
      gone += length(at(k + step) - at(k));
      k += step;
    }
    return at(k);
  };
  const Point ahead = side < 0 ? at(i) : walk(1), behind = side > 0 ? at(i) : walk(-1);
  return unit(ahead - behind);
}

double turnAt(std::span<const Point> p, std::size_t i, double reach) {
  const Point a = direction(p, std::ptrdiff_t(i), reach, -1), b = direction(p, std::ptrdiff_t(i), reach, 1);
  return std::acos(std::clamp(dot(a, b), -1.0, 1.0)) * 180 / std::numbers::pi;
}

// At a corner the turn is the same however far one looks; along a bend it grows with the reach. Sharp corners are told close by,
// blunt ones from farther off, where noise of the points weighs less.
std::vector<std::size_t> cornersOf(std::span<const Point> p, double cornerDeg) {
  struct Look {
    double reach, least;
    std::ptrdiff_t apart;
  };
  const Look looks[] = {{5, cornerDeg, 6}, {12, cornerDeg * 0.45, 14}};
  constexpr double kGrowth = 1.4, kSurely = 3;
  const auto n = std::ptrdiff_t(p.size());
  std::vector<std::size_t> corners;
  std::vector<double> turn(p.size());
  for (const Look& look : looks) {
    if (n < 4 * look.apart) break;
    for (std::size_t i = 0; i < p.size(); ++i) turn[i] = turnAt(p, i, look.reach);
    const std::vector<std::size_t> found = corners;
    for (std::ptrdiff_t i = 0; i < n; ++i) {
      const double here = turn[std::size_t(i)];
      if (here < look.least) continue;
      bool highest = std::none_of(found.begin(), found.end(), [&](std::size_t c) {
        const std::ptrdiff_t gap = std::abs(std::ptrdiff_t(c) - i);
        return std::min(gap, n - gap) <= 2 * look.apart;
      });
      for (std::ptrdiff_t k = -look.apart; k <= look.apart && highest; ++k) {
        const std::ptrdiff_t j = (i + k + n) % n;
        highest = turn[std::size_t(j)] < here || (turn[std::size_t(j)] == here && j >= i);
      }
      if (highest && (here > kSurely * cornerDeg || turnAt(p, std::size_t(i), 2 * look.reach) <= kGrowth * here))
        corners.push_back(std::size_t(i));
    }
  }
  std::sort(corners.begin(), corners.end());
  return corners;
}

// Cubics for one run of points, each as long as the tolerance allows. A following one leaves as the last arrived.
void fitRun(std::span<const Point> run, const Ends& ends, double tolerance, std::vector<Cubic>& out, double& deviation) {
  std::size_t from = 0;
  const std::size_t end = run.size() - 1;
  std::optional<Point> start = ends.leaving;
  while (from < end) {
    const auto attempt = [&](std::size_t to) {
      return fitCubic(run.subspan(from, to - from + 1), {start, to == end ? ends.arriving : std::nullopt}, tolerance);
    };
    std::size_t good = from + 1, bad = end + 1;
    Fitted best = attempt(good);
    for (std::size_t step = 8; good < end; step *= 2) {
      const std::size_t to = std::min(end, from + step);
      if (to <= good) continue;
      const Fitted f = attempt(to);
      if (f.deviation > tolerance) {
        bad = to;
        break;
      }
      good = to, best = f;
    }
    while (bad - good > std::max<std::size_t>(1, (good - from) / 32)) {
      const std::size_t middle = (good + bad) / 2;
      if (middle > end) break;
      if (const Fitted f = attempt(middle); f.deviation <= tolerance) {
        good = middle, best = f;
      } else {
        bad = middle;
      }
    }
    out.push_back(best.cubic);
    deviation = std::max(deviation, best.deviation);
    start = unit(best.cubic.p3 - best.cubic.p2);
    from = good;
  }
}

Outline outlineOf(const std::vector<Cubic>& cubics, const std::vector<bool>& cornerAtStart) {
  Outline o;
  o.closed = true;
  const std::size_t n = cubics.size();
  for (std::size_t i = 0; i < n; ++i) {
    const Cubic &now = cubics[i], &before = cubics[(i + n - 1) % n];
    o.nodes.push_back({now.p0, before.p2, now.p1, !cornerAtStart[i]});
  }
  return o;
}

Fit fitBetween(std::span<const Point> polygon, const std::vector<std::size_t>& corners, double tolerance) {
  Fit fit;
  if (polygon.size() < 4) return fit;
  std::vector<std::size_t> starts = corners;
  const bool round = starts.empty();
  if (round) starts.push_back(0);
  std::vector<Cubic> cubics;
  std::vector<bool> isCorner;
  for (std::size_t k = 0; k < starts.size(); ++k) {
    const std::size_t a = starts[k], b = k + 1 < starts.size() ? starts[k + 1] : starts[0] + polygon.size();
    std::vector<Point> run;
    for (std::size_t i = a; i <= b; ++i) run.push_back(polygon[i % polygon.size()]);
    Ends ends;
    if (round) {
      constexpr double kReach = 8;
      ends.leaving = direction(polygon, std::ptrdiff_t(a), kReach, 0);
      ends.arriving = *ends.leaving * -1;
    }
    const std::size_t before = cubics.size();
    fitRun(run, ends, tolerance, cubics, fit.deviationPx);
    for (std::size_t i = before; i < cubics.size(); ++i) isCorner.push_back(!round && i == before);
  }
  fit.outline = outlineOf(cubics, isCorner);
  return fit;
}

}  // namespace

Fit fitted(std::span<const Point> polygon, double tolerancePx, double cornerDeg) {
  return fitBetween(polygon, cornersOf(polygon, cornerDeg), tolerancePx);
}

Fit refitted(const Outline& outline, double tolerancePx) {
  // Points about a px apart, with the outline's own corners among them.
  std::vector<Point> points;
  std::vector<std::size_t> corners;
  for (int i = 0; i < segmentCount(outline); ++i) {
    const Cubic c = segment(outline, i);
    const Node& n = outline.nodes[std::size_t(i)];
    const Point in = unit(n.at - n.in), out = unit(n.out - n.at);
    if (!n.smooth && !(dot(in, out) > 0.999)) corners.push_back(points.size());
    const double reach = length(c.p1 - c.p0) + length(c.p2 - c.p1) + length(c.p3 - c.p2);
    const int steps = std::clamp(int(reach), 4, 4000);
    for (int k = 0; k < steps; ++k) points.push_back(pointAt(c, double(k) / steps));
  }
  Fit fit = fitBetween(points, corners, tolerancePx);
  fit.outline.joins = outline.joins;
  if (fit.outline.nodes.empty() || fit.outline.nodes.size() > outline.nodes.size()) return {outline, 0};
  return fit;
}

Outline without(const Outline& outline, int node) {
  Outline o = outline;
  const int n = int(o.nodes.size());
  if (n < 2) return {};
  const bool end = !o.closed && (node == 0 || node == n - 1);
  if (!end && n > 2) {
    const int before = (node + n - 1) % n;
    const Cubic a = segment(o, before), b = segment(o, node);
    // Were both one curve once, their handles at the node tell where it was split.
    const double reachIn = length(a.p3 - a.p2), reachOut = length(b.p1 - b.p0);
    const double at = reachIn > 0 && reachOut > 0 ? reachIn / (reachIn + reachOut) : 0.5;
    std::vector<Point> points;
    std::vector<double> t;
    constexpr int kSteps = 40;
    for (int k = 0; k <= 2 * kSteps; ++k) {
      const double u = double(k % kSteps) / kSteps;
      points.push_back(k < kSteps ? pointAt(a, u) : pointAt(b, k == 2 * kSteps ? 1 : u));
      t.push_back(k < kSteps ? at * u : at + (1 - at) * (k == 2 * kSteps ? 1 : u));
    }
    const auto either = [](Point first, Point second) { return length(first) > 1e-9 ? first : second; };
    const Point leaving = unit(either(a.p1 - a.p0, a.p2 - a.p0)), arriving = unit(either(b.p2 - b.p3, b.p1 - b.p3));
    const Cubic c = fitCubic(points, {leaving, arriving}, 0, t).cubic;
    o.nodes[std::size_t(before)].out = c.p1;
    o.nodes[std::size_t((node + 1) % n)].in = c.p2;
  }
  o.nodes.erase(o.nodes.begin() + node);
  return o;
}

}  // namespace hseam::path
