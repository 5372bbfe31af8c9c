#pragma once
// Sizes, rectangles and affine maps. Coordinates: see CONVENTIONS.md.

#include <algorithm>
#include <cmath>
#include <optional>

namespace hseam::base {

struct Point {
  double x = 0, y = 0;
  friend bool operator==(const Point&, const Point&) = default;
};

struct Size {
  int width = 0, height = 0;
  bool empty() const { return width <= 0 || height <= 0; }
  friend bool operator==(const Size&, const Size&) = default;
};

/// Half open: holds the pixels [x, x + width) × [y, y + height).
struct Rect {
  int x = 0, y = 0, width = 0, height = 0;
  int right() const { return x + width; }
  int bottom() const { return y + height; }
  bool empty() const { return width <= 0 || height <= 0; }
  friend bool operator==(const Rect&, const Rect&) = default;

  Rect intersected(const Rect& o) const {
    const int l = std::max(x, o.x), t = std::max(y, o.y);
    return {l, t, std::max(0, std::min(right(), o.right()) - l), std::max(0, std::min(bottom(), o.bottom()) - t)};
  }
  /// The smallest rectangle that holds both; an empty one adds nothing.
  Rect united(const Rect& o) const {
    if (empty()) return o;
    if (o.empty()) return *this;
    const int l = std::min(x, o.x), t = std::min(y, o.y);
    return {l, t, std::max(right(), o.right()) - l, std::max(bottom(), o.bottom()) - t};
  }
  /// Larger by this many px on each side; an empty one stays empty.
  Rect grown(int by) const {
    if (empty()) return *this;
    return {x - by, y - by, width + 2 * by, height + 2 * by};
  }
  bool contains(int px, int py) const { return px >= x && py >= y && px < right() && py < bottom(); }
  static Rect of(Size s) { return {0, 0, s.width, s.height}; }
  /// The same area in px of a level `levels` coarser, rounded outwards.
  Rect coarser(int levels) const;
  /// The same area in px of a level `levels` finer.
  Rect finer(int levels) const { return {x << levels, y << levels, width << levels, height << levels}; }
};

/// (x, y) → (a·x + b·y + e, c·x + d·y + f).
struct Affine {
  double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
  Point map(Point p) const { return {a * p.x + b * p.y + e, c * p.x + d * p.y + f}; }
  double determinant() const { return a * d - b * c; }
  /// Mean factor by which lengths grow.
  double scale() const { return std::sqrt(std::abs(determinant())); }
  /// Rotation of what was level; positive = clockwise on the screen.
  double turnDeg() const { return std::atan2(c, a) * 180 / M_PI; }
  /// None for a singular map (|determinant| < 1e-12).
  std::optional<Affine> inverse() const;
  /// First `first`, then this map.
  Affine after(const Affine& first) const;
  static Affine scaling(double s) { return {s, 0, 0, s, 0, 0}; }
  friend bool operator==(const Affine&, const Affine&) = default;
};

/// The smallest pixel rectangle that holds the image of r under m.
Rect boundsOf(const Affine& m, const Rect& r);

}  // namespace hseam::base
