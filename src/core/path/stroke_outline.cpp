#include "core/path/stroke_outline.h"

#include <algorithm>
#include <cmath>

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;

constexpr double kStrokeChordPx = 0.05;
constexpr int kMostDashes = 20000;

// Points of an outline with the way to each.
struct Polyline {
  std::vector<Point> points;
  std::vector<double> way;
  double length() const { return way.empty() ? 0 : way.back(); }
};

Polyline polylineOf(const Outline& o) {
  Polyline p;
  for (const Point& q : flattened(o, kStrokeChordPx)) {
    if (!p.points.empty() && length(q - p.points.back()) < 1e-9) continue;
    p.way.push_back(p.points.empty() ? 0 : p.way.back() + length(q - p.points.back()));
    p.points.push_back(q);
  }
  if (o.closed && p.points.size() > 1) {
    p.way.push_back(p.way.back() + length(p.points.front() - p.points.back()));
    p.points.push_back(p.points.front());
  }
  return p;
}

// The part between two lengths.
std::vector<Point> part(const Polyline& p, double from, double to) {
  std::vector<Point> out;
  const auto at = [&](double way) {
    const auto next = std::upper_bound(p.way.begin() + 1, p.way.end() - 1, way);
    const auto i = std::size_t(next - p.way.begin());
    const double span = p.way[i] - p.way[i - 1], t = span > 0 ? (way - p.way[i - 1]) / span : 0;
    return p.points[i - 1] + (p.points[i] - p.points[i - 1]) * std::clamp(t, 0.0, 1.0);
  };
  out.push_back(at(from));
  for (std::size_t i = 0; i < p.points.size(); ++i) {
    if (p.way[i] > from + 1e-9 && p.way[i] < to - 1e-9) out.push_back(p.points[i]);
  }
  out.push_back(at(to));
  return out;
}

// An arc about `middle` from one side point to another, turning by `by` radians.
void arc(std::vector<Point>& to, Point middle, Point from, double by, double radius) {
  const double step = 2 * std::acos(std::max(0.0, 1 - kStrokeChordPx / std::max(radius, kStrokeChordPx)));
  const int n = std::max(1, int(std::ceil(std::abs(by) / std::max(step, 0.05))));
  const Point d = from - middle;
  for (int i = 1; i < n; ++i) {
    const double a = by * i / n, c = std::cos(a), s = std::sin(a);
    to.push_back(middle + Point{c * d.x - s * d.y, s * d.x + c * d.y});
  }
}

// One side of a polyline, `offset` to its left in screen terms (normal = (dy, −dx)).
void side(std::vector<Point>& to, const std::vector<Point>& line, double offset) {
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Point d = unit(line[i + 1] - line[i]), n{d.y * offset, -d.x * offset};
    if (i > 0) {
      const Point before = unit(line[i] - line[i - 1]);
      const double turn = std::atan2(before.x * d.y - before.y * d.x, dot(before, d));
      // Only the outer side of a turn has a gap to be rounded.
      if (turn > 0) arc(to, line[i], line[i] + Point{before.y * offset, -before.x * offset}, turn, offset);
    }
    to.push_back(line[i] + n);
    to.push_back(line[i + 1] + n);
  }
}

Outline strokeSide(std::vector<Point> line, const StrokeStyle& style, bool ring) {
  const double r = style.widthPx / 2;
  std::vector<Point> points;
  side(points, line, r);
  if (style.roundEnds && !ring) arc(points, line.back(), points.back(), M_PI, r);
  std::reverse(line.begin(), line.end());
  const std::size_t before = points.size();
  side(points, line, r);
  if (style.roundEnds && !ring && points.size() > before) arc(points, line.back(), points.back(), M_PI, r);
  Outline o;
  o.closed = true;
  for (const Point& p : points) o.nodes.push_back(corner(p));
  return o;
}

}  // namespace

bool fits(const StrokeStyle& s) {
  const auto length = [](double v) { return v == 0 || (v >= 0.5 && v <= 10000); };
  return s.widthPx >= 0.1 && s.widthPx <= 2000 && length(s.dashPx) && length(s.gapPx) && (s.dashPx == 0 || s.gapPx > 0);
}

Path strokeOutline(const Path& along, const StrokeStyle& style) {
  Path out;
  int left = kMostDashes;
  for (const Outline& o : along.outlines) {
    const Polyline p = polylineOf(o);
    if (p.points.size() < 2) continue;
    if (style.dashPx <= 0) {
      out.outlines.push_back(strokeSide(p.points, style, o.closed));
      continue;
    }
    double period = style.dashPx + style.gapPx;
    if (o.closed) period = p.length() / std::max(1.0, std::round(p.length() / period));
    const double dash = style.dashPx * (o.closed ? period / (style.dashPx + style.gapPx) : 1);
    for (double at = 0; at < p.length() - 1e-6 && left > 0; at += period, --left)
      out.outlines.push_back(strokeSide(part(p, at, std::min(at + dash, p.length())), style, false));
  }
  return out;
}

}  // namespace hseam::path
