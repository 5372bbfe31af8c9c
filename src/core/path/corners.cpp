#include "core/path/corners.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;

double turnAt(std::span<const Point> p, std::size_t i, double reach) {
  const Point a = direction(p, std::ptrdiff_t(i), reach, -1), b = direction(p, std::ptrdiff_t(i), reach, 1);
  return std::acos(std::clamp(dot(a, b), -1.0, 1.0)) * 180 / std::numbers::pi;
}

}  // namespace

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

Point cornerPoint(std::span<const Point> p, std::size_t i) {
  constexpr double kFrom = 2, kTo = 9;  // px
  const auto n = std::ptrdiff_t(p.size());
  struct Line {
    Point through, along;
  };
  const auto side = [&](int step) {
    Point sum{0, 0};
    std::vector<Point> near;
    double gone = 0;
    for (std::ptrdiff_t k = std::ptrdiff_t(i); gone < kTo && std::ssize(near) < n / 2; k += step) {
      const Point &here = p[std::size_t((k % n + n) % n)], &next = p[std::size_t(((k + step) % n + n) % n)];
      if (gone >= kFrom) near.push_back(here), sum = sum + here;
      gone += length(next - here);
    }
    const Point mean = sum * (1.0 / double(std::max<std::size_t>(1, near.size())));
    double xx = 0, xy = 0, yy = 0;
    for (const Point& q : near) {
      const Point d = q - mean;
      xx += d.x * d.x, xy += d.x * d.y, yy += d.y * d.y;
    }
    const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
    return Line{mean, {std::cos(angle), std::sin(angle)}};
  };
  const Line a = side(-1), b = side(1);
  const double cross = a.along.x * b.along.y - a.along.y * b.along.x;
  if (std::abs(cross) < 0.17) return p[i];  // nearly one line
  const Point d = b.through - a.through;
  const Point meet = a.through + a.along * ((d.x * b.along.y - d.y * b.along.x) / cross);
  // As far as pixels take off a corner of this angle; what is rounder was round.
  const double cosine = std::clamp(dot(unit(a.through - p[i]), unit(b.through - p[i])), -1.0, 1.0);
  const double most = 0.7 / std::sqrt(std::max(0.04, (1 - cosine) / 2));
  return length(meet - p[i]) <= most ? meet : p[i];
}

}  // namespace hseam::path
