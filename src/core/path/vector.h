#pragma once
// Arithmetic of points, for the folder's own sources.

#include <cmath>

#include "core/base/geometry.h"

namespace hseam::path {

inline base::Point operator+(base::Point a, base::Point b) {
  return {a.x + b.x, a.y + b.y};
}
inline base::Point operator-(base::Point a, base::Point b) {
  return {a.x - b.x, a.y - b.y};
}
inline base::Point operator*(base::Point a, double k) {
  return {a.x * k, a.y * k};
}
inline double dot(base::Point a, base::Point b) {
  return a.x * b.x + a.y * b.y;
}
inline double length(base::Point a) {
  return std::hypot(a.x, a.y);
}
/// Of length 1; (0, 0) where there is no direction.
inline base::Point unit(base::Point a) {
  const double l = length(a);
  return l > 1e-12 ? a * (1 / l) : base::Point{0, 0};
}

}  // namespace hseam::path
