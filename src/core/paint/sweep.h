#pragma once

#include <cstdint>
#include <utility>

#include "core/base/geometry.h"

namespace hseam::paint {

/// A round tip swept along a segment, its radius and strength changing evenly: the nearest point on the segment decides.
class Sweep {
 public:
  struct End {
    base::Point at;   // px of the painted picture
    double radius;    // px
    double strength;  // 0..1
  };
  Sweep(const End& from, const End& to, double hardness);

  /// Coverage 0..255 of the pixels (x .. x + count − 1, y), centres at .5. `out` must have room for kSpare more bytes. The same
  /// on every instruction set.
  void row(int x, int y, int count, std::uint8_t* out) const;
  static constexpr int kSpare = 64;

  /// The pixels of row y outside which coverage is 0: from ≤ x < to.
  std::pair<int, int> reach(int y) const;
  /// Outside it coverage is 0.
  base::Rect bounds() const;

 private:
  End from_, to_;
  double hardness_;
};

/// Softness takes at least one pixel, half of it inside the radius, so that even a hard tip has a smooth edge.
struct TipRadii {
  double inner, outer;
};
TipRadii tipRadii(double radius, double hardness);

}  // namespace hseam::paint
