#pragma once
// The nearest place of an outline for each pixel.

#include "core/image/raster.h"
#include "core/matte/unrolled.h"

namespace hseam::matte {

/// A spatial index of an outline's places.
class NearestPlace {
 public:
  /// outline must outlive this.
  NearestPlace(const Unrolled& outline, base::Size picture);

  /// Indices of the places within an area (px).
  std::vector<int> within(const base::Rect& area) const;
  /// For every pixel of the area the index of the nearest place, −1 where none is within reachPx. Distances are those of a
  /// 5 × 5 chamfer mask (Borgefors 1986), off by at most 2 %.
  image::Raster<int> of(const base::Rect& area, int reachPx) const;

 private:
  static constexpr int kCell = 128;
  const Unrolled& outline_;
  int across_ = 0, down_ = 0;
  std::vector<std::vector<int>> cells_;
};

/// A pixel's offset from a place: along the outward normal (outside is positive) and along the outline.
struct Across {
  double outwards, along;
};
Across acrossAt(const Unrolled::Place& place, double x, double y);

}  // namespace hseam::matte
