#pragma once
// A bent and placed picture seen on the grid of the output.

#include <memory>
#include <mutex>
#include <vector>

#include "core/image/tiled_image.h"
#include "core/render/planes.h"
#include "core/scene/warp.h"

namespace hseam::render {

/// The way back through a warp: exact where only the corners moved, else by a net of places worked out once, smoothly between.
class WayBack {
 public:
  WayBack(const scene::Warp& warp, base::Size picture);
  /// The px of the picture that comes to lie at a px of the bent picture; nothing beyond the net.
  std::optional<base::Point> at(base::Point bent) const;

 private:
  std::optional<std::array<double, 9>> exact_;
  double step_ = 1, left_ = 0, top_ = 0;
  int across_ = 0, down_ = 0;
  std::vector<float> x_, y_;  // NaN: nothing lies there
};

/// The latest few, made when they are needed first. Any thread.
class WaysBack {
 public:
  std::shared_ptr<const WayBack> of(const std::shared_ptr<const scene::Warp>& warp, base::Size picture);

 private:
  struct Kept {
    std::shared_ptr<const scene::Warp> warp;
    base::Size picture;
    std::shared_ptr<const WayBack> way;
  };
  std::mutex mutex_;
  std::vector<Kept> kept_;
};

struct WarpedPicture {
  const image::TiledImage* colours = nullptr;
  const image::TiledImage* mask = nullptr;  // null: 1 everywhere
  base::Affine toOutput;                    // px of the bent picture → px of the output
  const WayBack* way = nullptr;
};
/// As samplePicture: straight encoded colours and alpha, resampled once in linear light weighted by alpha, by Catmull-Rom from
/// the level of detail next above the reduction at each place. False: nothing shows. Errors: what pinning says.
base::Result<bool> sampleWarped(const WarpedPicture& what, const base::Rect& area, Planes& out);

}  // namespace hseam::render
