#include "core/matte/edge_snap.h"

#include <algorithm>
#include <cmath>

#include "core/matte/edge_fit.h"

namespace hseam::matte {
namespace {

constexpr double kCertain = 0.35;  // of a place, below which its edge is not trusted

base::Point along(const base::Point& p, const base::Point& way, double by) {
  return {p.x + way.x * by, p.y + way.y * by};
}

// Places a px apart along an outline, and the first place of each of its segments.
struct Laid {
  Unrolled places;
  std::vector<std::size_t> ofNode;
};
Laid laidOut(const path::Outline& outline) {
  Laid laid;
  const int segments = path::segmentCount(outline);
  for (int i = 0; i < segments; ++i) {
    laid.ofNode.push_back(laid.places.places.size());
    const path::Cubic c = path::segment(outline, i);
    const auto apart = [](const base::Point& a, const base::Point& b) { return std::hypot(a.x - b.x, a.y - b.y); };
    const int steps = std::clamp(int(apart(c.p0, c.p1) + apart(c.p1, c.p2) + apart(c.p2, c.p3)), 2, 20000);
    for (int k = 0; k < steps; ++k) {
      // A handle on its point leaves no slope just there.
      const double t = double(k) / steps;
      const base::Point at = path::pointAt(c, t), slope = path::slopeAt(c, std::clamp(t, 0.01, 0.99));
      const double l = std::max(1e-9, std::hypot(slope.x, slope.y));
      laid.places.places.push_back({at, {slope.y / l, -slope.x / l}, 0});
    }
  }
  if (!outline.closed) laid.ofNode.push_back(laid.places.places.size() - 1);
  return laid;
}

}  // namespace

base::Result<path::Path> snappedToEdges(const path::Path& path, const image::TiledImage& picture, double withinPx,
                                        const base::Progress& progress) {
  path::Path out = path;
  for (path::Outline& o : out.outlines) {
    if (progress.cancelled()) return base::cancelledError();
    if (path::segmentCount(o) == 0) continue;
    const Laid laid = laidOut(o);
    const auto& places = laid.places.places;
    constexpr std::size_t kShortest = 16;
    if (places.size() < kShortest) continue;
    HSEAM_TRY(const FittedEdge edge, fittedEdge(laid.places, 0, int(places.size()), picture, false));
    const auto n = std::ptrdiff_t(places.size());
    // At a corner the two sides' normals differ: each side says where it goes, from where the other no longer tells.
    const auto moveBy = [&](std::ptrdiff_t from, int step) -> std::optional<base::Point> {
      constexpr int kNear = 9, kFar = 18;
      double sum = 0;
      int count = 0;
      const base::Point normal = places[std::size_t(((from + step * kNear) % n + n) % n)].outward;
      for (int k = kNear; k <= kFar; ++k) {
        const std::ptrdiff_t i = from + step * k;
        if (!o.closed && (i < 0 || i >= n)) break;
        const auto at = std::size_t((i % n + n) % n);
        if (edge.certainty[at] < kCertain || std::abs(edge.outwardsPx[at]) > withinPx) continue;
        sum += edge.outwardsPx[at];
        ++count;
      }
      if (count == 0) return std::nullopt;
      return base::Point{normal.x * sum / count, normal.y * sum / count};
    };
    for (std::size_t k = 0; k < o.nodes.size(); ++k) {
      path::Node& node = o.nodes[k];
      const auto at = std::ptrdiff_t(laid.ofNode[k]);
      const auto before = moveBy(at, -1), after = moveBy(at, 1);
      if (!before && !after) continue;
      base::Point by = before ? *before : *after;
      if (before && after) {
        // The point that moves by as much as each side wants along that side's normal.
        const double a = std::hypot(before->x, before->y), b = std::hypot(after->x, after->y);
        const double cross = before->x * after->y - before->y * after->x;
        if (node.smooth || std::abs(cross) < 0.3 * a * b || a < 1e-6 || b < 1e-6) {
          by = {(before->x + after->x) / (node.smooth ? 2 : 1), (before->y + after->y) / (node.smooth ? 2 : 1)};
          if (!node.smooth && std::abs(cross) < 0.3 * a * b && a > 1e-6 && b > 1e-6) by = {by.x / 2, by.y / 2};
        } else {
          by = {(a * a * after->y - b * b * before->y) / cross, (b * b * before->x - a * a * after->x) / cross};
        }
      }
      const double far = std::hypot(by.x, by.y), most = 1.5 * withinPx;
      if (far > most) by = {by.x * most / far, by.y * most / far};
      for (base::Point* p : {&node.at, &node.in, &node.out}) *p = along(*p, by, 1);
    }
  }
  return out;
}

}  // namespace hseam::matte
