#pragma once
// A picture's warp before it is placed: tacks first, then a grid, then its four corners. All in px of the picture. The picture is
// resampled once, through all of them.

#include <array>
#include <vector>

#include "core/base/error.h"
#include "core/base/geometry.h"

namespace hseam::scene {

/// A place of the picture that is held or moved.
struct Tack {
  base::Point from, to;
  friend bool operator==(const Tack&, const Tack&) = default;
};

struct Warp {
  std::vector<Tack> tacks;  // at most 64; as-rigid-as-possible deformation (Schaefer, McPhail, Warren 2006)
  /// Lines of the grid, shares of width and height, rising from 0 to 1; empty: no grid. At most 16 of each.
  std::vector<double> columns, rows;
  std::vector<base::Point> grid;     // where the crossings go, row after row; between them cubic patches
  std::vector<base::Point> corners;  // where the four corners go, clockwise from the top left; empty: they stay
  bool neutral() const { return tacks.empty() && grid.empty() && corners.empty(); }
  friend bool operator==(const Warp&, const Warp&) = default;
};

/// Where a px of the picture goes; places outside the picture follow as the nearest inside would.
base::Point mapped(const Warp& warp, base::Size picture, base::Point p);
/// The same for many px; refers to the warp.
class WarpMap {
 public:
  WarpMap(const Warp& warp, base::Size picture);
  base::Point operator()(base::Point p) const;
  /// The same for `count` px below each other, `step` apart: a grid without tacks is gone through once for all of them.
  void column(base::Point first, double step, std::size_t count, base::Point* out) const;

 private:
  using Across = std::array<base::Point, 16>;
  Across acrossAt(double x) const;
  base::Point below(const Across& across, double y) const;
  const Warp& warp_;
  base::Size size_;
  bool grid_;
  std::optional<std::array<double, 9>> corners_;
};
/// px of the picture that hold the whole of what the picture becomes.
base::Rect boundsOf(const Warp& warp, base::Size picture);
/// A grid of so many cells that bends nothing yet.
Warp withGrid(Warp warp, base::Size picture, int columns, int rows);
/// The same bend of a picture that is larger or smaller by this map.
Warp scaled(Warp warp, const base::Affine& grow);
/// The same bend with another line of the grid at a share of the width (or height).
Warp withSplit(const Warp& warp, base::Size picture, double at, bool column);
/// A projective map, row-major, with its last entry 1; nothing where the four points are no quadrilateral.
std::optional<std::array<double, 9>> homography(const std::array<base::Point, 4>& from, const std::array<base::Point, 4>& to);
base::Point mapped(const std::array<double, 9>& h, base::Point p);

base::Status validWarp(const Warp& warp, base::Size picture);

}  // namespace hseam::scene
