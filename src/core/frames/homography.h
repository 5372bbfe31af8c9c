#pragma once
// From px of one picture to px of another, by a plane projective map.

#include <array>

#include "core/base/geometry.h"

namespace hseam::frames {

/// By rows; its last number is 1. Pixel centres lie at halves, as everywhere in the core.
struct Homography {
  std::array<double, 9> m{1, 0, 0, 0, 1, 0, 0, 0, 1};

  base::Point map(base::Point p) const {
    const double w = m[6] * p.x + m[7] * p.y + m[8];
    return {(m[0] * p.x + m[1] * p.y + m[2]) / w, (m[3] * p.x + m[4] * p.y + m[5]) / w};
  }
  /// First `first`, then this.
  static Homography scaling(double k) { return {{k, 0, 0, 0, k, 0, 0, 0, 1}}; }
  Homography after(const Homography& first) const;
  /// Of a non-singular map.
  Homography inverse() const;
  /// The same map where pixel centres lie at whole numbers.
  Homography inIndices() const;
  friend bool operator==(const Homography&, const Homography&) = default;
};

/// The similarity that fits a map best, about the picture's centre (px, degrees clockwise).
struct Drift {
  double dx = 0, dy = 0, rotationDeg = 0, scale = 1;
};
Drift driftOf(const Homography& map, base::Size picture);

}  // namespace hseam::frames
