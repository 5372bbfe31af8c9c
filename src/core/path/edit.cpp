#include "core/path/edit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Point;

Node mapped(const Node& n, const base::Affine& m) {
  return {m.map(n.at), m.map(n.in), m.map(n.out), n.smooth};
}
Node turnedRound(const Node& n) {
  return {n.at, n.out, n.in, n.smooth};
}

}  // namespace

Outline withNodeAt(const Outline& outline, int i, double t) {
  Outline o = outline;
  const auto [a, b] = split(segment(outline, i), t);
  const bool straight = a.p1 == a.p0 && b.p2 == b.p3;
  const std::size_t next = std::size_t(i + 1) % o.nodes.size();
  o.nodes[std::size_t(i)].out = straight ? o.nodes[std::size_t(i)].at : a.p1;
  o.nodes[next].in = straight ? o.nodes[next].at : b.p2;
  o.nodes.insert(o.nodes.begin() + i + 1, straight ? corner(a.p3) : Node{a.p3, a.p2, b.p1, true});
  return o;
}

Outline asCorner(const Outline& outline, int node) {
  Outline o = outline;
  o.nodes[std::size_t(node)].smooth = false;
  return o;
}

Outline asSmooth(const Outline& outline, int node) {
  Outline o = outline;
  const int n = int(o.nodes.size());
  Node& at = o.nodes[std::size_t(node)];
  const Point before = o.nodes[std::size_t((node + n - 1) % n)].at, after = o.nodes[std::size_t((node + 1) % n)].at;
  double in = length(at.in - at.at), out = length(at.out - at.at);
  const Point along = in > 0 && out > 0 ? unit(unit(at.out - at.at) - unit(at.in - at.at)) : unit(after - before);
  if (in == 0) in = length(before - at.at) / 3;
  if (out == 0) out = length(after - at.at) / 3;
  at.in = at.at - along * in;
  at.out = at.at + along * out;
  at.smooth = true;
  return o;
}

Outline moved(const Outline& outline, std::span<const int> nodes, Point by) {
  return transformed(outline, nodes, {1, 0, 0, 1, by.x, by.y});
}

Path mapped(const Path& path, const base::Affine& map) {
  Path out = path;
  for (Outline& o : out.outlines) {
    for (Node& n : o.nodes) n = {map.map(n.at), map.map(n.in), map.map(n.out), n.smooth};
  }
  return out;
}

Outline transformed(const Outline& outline, std::span<const int> nodes, const base::Affine& map) {
  Outline o = outline;
  for (const int i : nodes) o.nodes[std::size_t(i)] = mapped(o.nodes[std::size_t(i)], map);
  return o;
}

Outline withHandle(const Outline& outline, int node, Handle which, Point to) {
  Outline o = outline;
  Node& n = o.nodes[std::size_t(node)];
  Point &moved = which == Handle::in ? n.in : n.out, &other = which == Handle::in ? n.out : n.in;
  moved = to;
  if (n.smooth && length(to - n.at) > 1e-9) other = n.at - unit(to - n.at) * length(other - n.at);
  return o;
}

Outline pulled(const Outline& outline, int i, double t, Point by) {
  Outline o = outline;
  t = std::clamp(t, 0.05, 0.95);  // near an end the handles would have to go very far
  const double s = 1 - t, b1 = 3 * s * s * t, b2 = 3 * s * t * t, norm = b1 * b1 + b2 * b2;
  Node &a = o.nodes[std::size_t(i)], &b = o.nodes[std::size_t(i + 1) % o.nodes.size()];
  a.out = a.out + by * (b1 / norm);
  b.in = b.in + by * (b2 / norm);
  // A smooth node stays one: its other handle turns along.
  if (a.smooth) a.in = a.at - unit(a.out - a.at) * length(a.in - a.at);
  if (b.smooth) b.out = b.at - unit(b.in - b.at) * length(b.out - b.at);
  return o;
}

Outline throughPoints(const Outline& outline) {
  Outline o = outline;
  const int n = int(o.nodes.size());
  if (n < 3) return o;
  for (int i = 0; i < n; ++i) {
    Node& now = o.nodes[std::size_t(i)];
    const bool first = !o.closed && i == 0, last = !o.closed && i == n - 1;
    const Point p = now.at, before = first ? p : outline.nodes[std::size_t((i + n - 1) % n)].at,
                after = last ? p : outline.nodes[std::size_t((i + 1) % n)].at;
    now.smooth = !first && !last;
    now.in = now.out = p;
    if (first || last) continue;
    // Centripetal: knots apart by the square root of the distances.
    const double a = std::sqrt(length(p - before)), b = std::sqrt(length(after - p));
    if (a < 1e-9 || b < 1e-9) continue;
    const Point slope = (p - before) * (1 / a) - (after - before) * (1 / (a + b)) + (after - p) * (1 / b);
    now.in = p - slope * (a / 3);
    now.out = p + slope * (b / 3);
  }
  return o;
}

Outline mirroredAndClosed(const Outline& half) {
  if (half.closed || half.nodes.size() < 3) return half;
  const Point a = half.nodes.front().at, along = unit(half.nodes.back().at - a);
  // Reflection about the line through a.
  const double c = along.x * along.x - along.y * along.y, s = 2 * along.x * along.y;
  const base::Affine mirror{c, s, s, -c, a.x - c * a.x - s * a.y, a.y - s * a.x + c * a.y};
  Outline o = half;
  o.closed = true;
  for (std::size_t i = half.nodes.size() - 1; i-- > 1;) o.nodes.push_back(turnedRound(mapped(half.nodes[i], mirror)));
  // At the two ends each side's handle is the other's image.
  Node &first = o.nodes.front(), &last = o.nodes[half.nodes.size() - 1];
  first.in = mirror.map(first.out);
  last.out = mirror.map(last.in);
  return o;
}

Outline joinedEnds(const Outline& a, const Outline& b) {
  if (a.nodes.empty()) return b;
  if (b.nodes.empty()) return a;
  const auto reversed = [](Outline o) {
    std::reverse(o.nodes.begin(), o.nodes.end());
    for (Node& n : o.nodes) n = turnedRound(n);
    return o;
  };
  Outline best;
  double least = 1e300;
  for (const bool turnA : {false, true}) {
    for (const bool turnB : {false, true}) {
      const Outline x = turnA ? reversed(a) : a, y = turnB ? reversed(b) : b;
      const double gap = length(y.nodes.front().at - x.nodes.back().at);
      if (gap >= least) continue;
      least = gap;
      best = x;
      auto from = y.nodes.begin();
      if (gap < 1e-6) best.nodes.back().out = (from++)->out;
      best.nodes.insert(best.nodes.end(), from, y.nodes.end());
    }
  }
  return best;
}

Reading readingOf(const Outline& outline) {
  Reading r{int(outline.nodes.size()), 0};
  const auto points = flattened(outline, 0.05);
  if (!outline.closed || points.size() < 4) return r;
  double turned = 0;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const Point a = points[(i + 1) % points.size()] - points[i],
                b = points[(i + 2) % points.size()] - points[(i + 1) % points.size()];
    turned += std::abs(std::atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y));
  }
  r.wiggle = std::max(0.0, 1 - 2 * std::numbers::pi / std::max(turned, 1e-9));
  return r;
}

}  // namespace hseam::path
