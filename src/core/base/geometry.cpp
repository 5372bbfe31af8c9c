#include "core/base/geometry.h"

#include <cmath>

namespace hseam::base {

Rect Rect::coarser(int levels) const {
  if (empty()) return {x >> levels, y >> levels, 0, 0};
  const int l = x >> levels, t = y >> levels, round = (1 << levels) - 1;
  return {l, t, ((right() + round) >> levels) - l, ((bottom() + round) >> levels) - t};
}

std::optional<Affine> Affine::inverse() const {
  const double det = determinant();
  if (std::abs(det) < 1e-12) return std::nullopt;
  const double ia = d / det, ib = -b / det, ic = -c / det, id = a / det;
  return Affine{ia, ib, ic, id, -(ia * e + ib * f), -(ic * e + id * f)};
}

Affine Affine::after(const Affine& g) const {
  return {a * g.a + b * g.c, a * g.b + b * g.d,     c * g.a + d * g.c,
          c * g.b + d * g.d, a * g.e + b * g.f + e, c * g.e + d * g.f + f};
}

Rect boundsOf(const Affine& m, const Rect& r) {
  if (r.empty()) return {};
  const Point corners[] = {m.map({double(r.x), double(r.y)}), m.map({double(r.right()), double(r.y)}),
                           m.map({double(r.x), double(r.bottom())}), m.map({double(r.right()), double(r.bottom())})};
  double l = corners[0].x, t = corners[0].y, rr = l, bb = t;
  for (const Point& p : corners) {
    l = std::min(l, p.x), t = std::min(t, p.y), rr = std::max(rr, p.x), bb = std::max(bb, p.y);
  }
  // A map that is exact but for rounding must not grow the rectangle by a pixel.
  const double slack = 1e-6;
  const int x = int(std::floor(l + slack)), y = int(std::floor(t + slack));
  return {x, y, int(std::ceil(rr - slack)) - x, int(std::ceil(bb - slack)) - y};
}

}  // namespace hseam::base
