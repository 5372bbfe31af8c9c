#include "core/path/path.h"

#include <algorithm>
#include <cmath>

namespace hseam::path {
namespace {

using base::Point;

Point mixed(Point a, Point b, double t) {
  return {a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t};
}
double distance(Point a, Point b) {
  return std::hypot(a.x - b.x, a.y - b.y);
}

// A curve leaves n equal chords by at most max|B''| / 8n², and |B''| is at most six times the larger second difference m:
// n = √(¾ · m / tolerance) (Wang 1984).
int chordsFor(const Cubic& c, double tolerance) {
  const double a = std::hypot(c.p0.x - 2 * c.p1.x + c.p2.x, c.p0.y - 2 * c.p1.y + c.p2.y);
  const double b = std::hypot(c.p1.x - 2 * c.p2.x + c.p3.x, c.p1.y - 2 * c.p2.y + c.p3.y);
  return std::clamp(int(std::ceil(std::sqrt(0.75 * std::max(a, b) / tolerance))), 1, 4000);
}

}  // namespace

Point pointAt(const Cubic& c, double t) {
  const double s = 1 - t, a = s * s * s, b = 3 * s * s * t, d = 3 * s * t * t, e = t * t * t;
  return {a * c.p0.x + b * c.p1.x + d * c.p2.x + e * c.p3.x, a * c.p0.y + b * c.p1.y + d * c.p2.y + e * c.p3.y};
}

Point slopeAt(const Cubic& c, double t) {
  const double s = 1 - t, a = 3 * s * s, b = 6 * s * t, d = 3 * t * t;
  return {a * (c.p1.x - c.p0.x) + b * (c.p2.x - c.p1.x) + d * (c.p3.x - c.p2.x),
          a * (c.p1.y - c.p0.y) + b * (c.p2.y - c.p1.y) + d * (c.p3.y - c.p2.y)};
}

std::pair<Cubic, Cubic> split(const Cubic& c, double t) {
  const Point a = mixed(c.p0, c.p1, t), b = mixed(c.p1, c.p2, t), d = mixed(c.p2, c.p3, t);
  const Point e = mixed(a, b, t), f = mixed(b, d, t), g = mixed(e, f, t);
  return {{c.p0, a, e, g}, {g, f, d, c.p3}};
}

int segmentCount(const Outline& o) {
  const int n = int(o.nodes.size());
  return o.closed ? (n > 1 ? n : 0) : std::max(0, n - 1);
}

Cubic segment(const Outline& o, int i) {
  const Node &a = o.nodes[std::size_t(i)], &b = o.nodes[std::size_t(i + 1) % o.nodes.size()];
  return {a.at, a.out, b.in, b.at};
}

std::vector<Point> flattened(const Outline& o, double tolerancePx) {
  std::vector<Point> points;
  for (int i = 0; i < segmentCount(o); ++i) {
    const Cubic c = segment(o, i);
    const bool straight = c.p1 == c.p0 && c.p2 == c.p3;
    const int n = straight ? 1 : chordsFor(c, tolerancePx);
    for (int k = 0; k < n; ++k) points.push_back(k == 0 ? c.p0 : pointAt(c, double(k) / n));
  }
  if (!o.closed && !o.nodes.empty()) points.push_back(o.nodes.back().at);
  return points;
}

base::Rect boundsOf(const Path& path) {
  double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
  for (const Outline& o : path.outlines) {
    for (const Point& p : flattened(o, 0.25)) {
      left = std::min(left, p.x), right = std::max(right, p.x);
      top = std::min(top, p.y), bottom = std::max(bottom, p.y);
    }
  }
  if (right < left) return {};
  const int x = int(std::floor(left)), y = int(std::floor(top));
  return {x, y, int(std::ceil(right)) - x, int(std::ceil(bottom)) - y};
}

std::optional<Place> nearest(const Path& path, Point to) {
  std::optional<Place> best;
  for (int o = 0; o < int(path.outlines.size()); ++o) {
    const Outline& outline = path.outlines[std::size_t(o)];
    for (int i = 0; i < segmentCount(outline); ++i) {
      const Cubic c = segment(outline, i);
      // Coarse search, then Newton on the distance's slope; the curve is at most a cubic, so a few steps are exact.
      double t = 0, least = 1e300;
      constexpr int kCoarse = 24;
      for (int k = 0; k <= kCoarse; ++k) {
        const double d = distance(pointAt(c, double(k) / kCoarse), to);
        if (d < least) least = d, t = double(k) / kCoarse;
      }
      double step = 0.5 / kCoarse;
      for (int k = 0; k < 24; ++k, step /= 2) {
        for (const double u : {t - step, t + step}) {
          const double v = std::clamp(u, 0.0, 1.0), d = distance(pointAt(c, v), to);
          if (d < least) least = d, t = v;
        }
      }
      if (!best || least < best->distance) best = Place{o, i, t, least};
    }
  }
  return best;
}

std::optional<std::string> fault(const Path& path) {
  constexpr double kFarthest = 1e6;
  constexpr std::size_t kMostNodes = 100'000;
  std::size_t count = 0;
  for (const Outline& o : path.outlines) {
    count += o.nodes.size();
    for (const Node& n : o.nodes) {
      for (const double v : {n.at.x, n.at.y, n.in.x, n.in.y, n.out.x, n.out.y}) {
        if (!(std::abs(v) <= kFarthest)) return "a point of the path lies nowhere";
      }
    }
  }
  if (count > kMostNodes) return "the path has too many points";
  return std::nullopt;
}

}  // namespace hseam::path
