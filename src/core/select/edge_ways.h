#pragma once
// Edge-following outlines: cheapest paths from one place to all others.

#include <memory>
#include <vector>

#include "core/base/geometry.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

/// The cheapest paths from a place to all others within reach, at low cost along edges of the picture (Mortensen & Barrett 1998,
/// "Interactive Segmentation with Intelligent Scissors"; by OpenCV). Immutable; copies share. Any thread.
class EdgeWays {
 public:
  base::Point from() const { return from_; }
  /// px of the picture; ways are known inside.
  const base::Rect& area() const { return area_; }
  /// The way from from() to `target`, both included, px of the picture with pixel centres at halves. A target beyond the area is
  /// reached by a straight last piece. Cost: the length of the way.
  std::vector<base::Point> to(base::Point target) const;

 private:
  friend base::Result<EdgeWays> edgeWays(const image::TiledImage&, base::Point, int, const base::Progress&);
  struct Search;
  std::shared_ptr<const Search> search_;
  base::Point from_;
  base::Rect area_;
  int level_ = 0;
};

/// Finds the ways on one level of the picture (0: every pixel; n: halved n times, for when it is seen small), up to 450 px of
/// that level to each side. Cost: about 0.3 s. Errors: invalid (`from` lies outside), cancelled, what reading says.
base::Result<EdgeWays> edgeWays(const image::TiledImage& picture, base::Point from, int level, const base::Progress& progress);

}  // namespace hseam::select
