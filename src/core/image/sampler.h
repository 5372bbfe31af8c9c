#pragma once

#include <unordered_map>

#include "core/image/tiled_image.h"

namespace hseam::image {

/// Interpolated samples of an image. Keeps the tiles it has touched: for profiles along lines, not for whole pictures. One
/// thread. A tile that cannot be read gives zero, and failed() is true from then on.
class Sampler {
 public:
  explicit Sampler(TiledImage image) : image_(std::move(image)) {}
  /// Bilinear, 0..1; px of level 0, pixel centres at halves; beyond the edge the nearest pixel. Channel c of the format.
  float at(double x, double y, int channel);
  bool failed() const { return failed_; }

 private:
  float pixel(int x, int y, int channel);
  TiledImage image_;
  const TilePin* tileAt(int column, int row);
  std::unordered_map<int, TilePin> pins_;
  int lastKey_ = -1;
  const TilePin* last_ = nullptr;
  bool failed_ = false;
};

}  // namespace hseam::image
