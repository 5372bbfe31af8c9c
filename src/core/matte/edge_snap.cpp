#include "core/matte/edge_snap.h"

#include <algorithm>
#include <cmath>
#include <initializer_list>
#include <optional>

#include "core/matte/edge_fit.h"

namespace hseam::matte {
namespace {

constexpr double kCertain = 0.35;  // of a place, below which its edge is not trusted

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

// How far one side of a node wants to go along its normal; nothing where no edge is near. It is asked some px away from the node:
// at a corner the other side's edge crosses nearer ones.
struct Wish {
  base::Point normal;
  double outwardsPx;
};
std::optional<Wish> wishOf(const Laid& laid, const FittedEdge& edge, bool closed, std::size_t node, int step, double withinPx) {
  constexpr int kNear = 9, kFarthest = 18;
  const auto& places = laid.places.places;
  const auto n = std::ptrdiff_t(places.size());
  Wish wish{};
  int count = 0;
  for (int k = kNear; k <= kFarthest; ++k) {
    const std::ptrdiff_t i = std::ptrdiff_t(laid.ofNode[node]) + step * k;
    if (!closed && (i < 0 || i >= n)) break;
    const auto at = std::size_t((i % n + n) % n);
    if (k == kNear) wish.normal = places[at].outward;
    if (edge.certainty[at] < kCertain || std::abs(edge.outwardsPx[at]) > withinPx) continue;
    wish.outwardsPx += edge.outwardsPx[at];
    ++count;
  }
  if (count == 0) return std::nullopt;
  wish.outwardsPx /= count;
  return wish;
}

// The shortest move that meets all wishes best (least squares, slightly damped): for one side along its normal, for a smooth node
// their mean, for a corner the place where both edges meet.
base::Point moveFor(std::initializer_list<std::optional<Wish>> wishes) {
  constexpr double kDamping = 1e-3;
  double xx = kDamping, xy = 0, yy = kDamping, x = 0, y = 0;
  for (const auto& w : wishes) {
    if (!w) continue;
    xx += w->normal.x * w->normal.x, xy += w->normal.x * w->normal.y, yy += w->normal.y * w->normal.y;
    x += w->normal.x * w->outwardsPx, y += w->normal.y * w->outwardsPx;
  }
  const double det = xx * yy - xy * xy;
  return {(yy * x - xy * y) / det, (xx * y - xy * x) / det};
}

}  // namespace

base::Result<path::Path> snappedToEdges(const path::Path& path, const image::TiledImage& picture, double withinPx,
                                        const base::Progress& progress) {
  path::Path out = path;
  for (path::Outline& o : out.outlines) {
    if (progress.cancelled()) return base::cancelledError();
    if (path::segmentCount(o) == 0) continue;
    const Laid laid = laidOut(o);
    constexpr std::size_t kShortest = 16;
    if (laid.places.places.size() < kShortest) continue;
    HSEAM_TRY(const FittedEdge edge, fittedEdge(laid.places, 0, int(laid.places.places.size()), picture, false));
    for (std::size_t k = 0; k < o.nodes.size(); ++k) {
      base::Point by = moveFor({wishOf(laid, edge, o.closed, k, -1, withinPx), wishOf(laid, edge, o.closed, k, 1, withinPx)});
      // A sharp corner's edges may meet far away.
      const double far = std::hypot(by.x, by.y), most = 1.5 * withinPx;
      if (far > most) by = {by.x * most / far, by.y * most / far};
      path::Node& node = o.nodes[k];
      for (base::Point* p : {&node.at, &node.in, &node.out}) *p = {p->x + by.x, p->y + by.y};
    }
  }
  return out;
}

}  // namespace hseam::matte
