#include "core/path/bent.h"

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;
using Map = std::function<Point(Point)>;

constexpr double kStep = 1e-3;  // of a segment, for slopes of the mapped curve
constexpr int kDeepest = 7;     // halvings
constexpr double kStraight = 1e-9;

// The cubic with the mapped curve's ends and slopes there.
Cubic touching(const Cubic& c, const Map& map) {
  const Point a = map(c.p0), d = map(c.p3);
  const Point leaves = (map(pointAt(c, kStep)) - a) * (1 / kStep), arrives = (d - map(pointAt(c, 1 - kStep))) * (1 / kStep);
  return {a, a + leaves * (1 / 3.0), d - arrives * (1 / 3.0), d};
}

void append(const Cubic& c, const Map& map, double tolerancePx, int depth, std::vector<Cubic>& out) {
  const Cubic mapped = touching(c, map);
  double off = 0;
  for (const double t : {0.25, 0.5, 0.75}) off = std::max(off, length(pointAt(mapped, t) - map(pointAt(c, t))));
  if (off <= tolerancePx || depth == kDeepest) {
    out.push_back(mapped);
    return;
  }
  const auto [first, second] = split(c, 0.5);
  append(first, map, tolerancePx, depth + 1, out);
  append(second, map, tolerancePx, depth + 1, out);
}

// A segment without handles is a straight line at even pace, so that halving it halves it.
Cubic paced(Cubic c) {
  const Point chord = c.p3 - c.p0;
  if (length(c.p1 - c.p0) > kStraight || length(c.p2 - c.p3) > kStraight) return c;
  c.p1 = c.p0 + chord * (1 / 3.0);
  c.p2 = c.p3 - chord * (1 / 3.0);
  return c;
}

Outline bent(const Outline& outline, const Map& map, double tolerancePx) {
  Outline out;
  out.closed = outline.closed;
  out.joins = outline.joins;
  if (outline.nodes.empty()) return out;
  std::vector<Cubic> curves;
  std::vector<std::size_t> firsts;  // the curve that each segment begins with
  for (int i = 0; i < segmentCount(outline); ++i) {
    firsts.push_back(curves.size());
    append(paced(segment(outline, i)), map, tolerancePx, 0, curves);
  }
  if (curves.empty()) {
    out.nodes.push_back(corner(map(outline.nodes[0].at)));
    return out;
  }
  const std::size_t n = curves.size();
  out.nodes.reserve(n + 1);
  for (std::size_t i = 0; i < n; ++i) {
    const Point before = i > 0 ? curves[i - 1].p2 : (outline.closed ? curves[n - 1].p2 : curves[0].p0);
    const auto at = std::find(firsts.begin(), firsts.end(), i);
    const bool smooth = at == firsts.end() || outline.nodes[std::size_t(at - firsts.begin())].smooth;
    out.nodes.push_back({curves[i].p0, before, curves[i].p1, smooth});
  }
  if (!outline.closed) out.nodes.push_back({curves[n - 1].p3, curves[n - 1].p2, curves[n - 1].p3, false});
  return out;
}

}  // namespace

Path bent(const Path& path, const std::function<Point(Point)>& map, double tolerancePx) {
  Path out;
  out.outlines.reserve(path.outlines.size());
  for (const Outline& o : path.outlines) out.outlines.push_back(bent(o, map, tolerancePx));
  return out;
}

}  // namespace hseam::path
