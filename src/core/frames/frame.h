#pragma once
// One of several pictures of a place, on the pixel grid of the first, the base. It is resampled on reading, so of a large set
// only what is viewed is resampled.

#include <vector>

#include "core/frames/homography.h"
#include "core/frames/light.h"
#include "core/image/tiled_image.h"

namespace hseam::frames {

/// A value; copying costs a pointer. Any thread may read it.
class Frame {
 public:
  /// A picture that is on the base's grid already. sRGB; alpha 0 where it shows nothing.
  Frame(image::TiledImage picture);  // NOLINT(google-explicit-constructor): a picture of a set is a frame as it is
  /// toBase: from its px to the base's. light: removed on reading, so that exposure and white balance match the base.
  Frame(image::TiledImage picture, const Homography& toBase, base::Size base, const LightChange& light);

  bool liesOnBase() const { return liesOnBase_; }
  /// Of the base.
  base::Size size() const { return size_; }
  /// The picture as it came.
  const image::TiledImage& picture() const { return picture_; }

  /// An area of a level of the base, encoded, 0..1. The picture's own channels if it is on the base's grid; else 4, resampled in
  /// linear light (Keys' cubic 1981) from the matching level; where it shows nothing, black with alpha 0. Errors: what reading
  /// says.
  base::Result<image::Raster<float>> read(int level, const base::Rect& area) const;
  /// How much of each px, 0..255, is clipped: darker than the light was. Read at the nearest px of the level, from the second
  /// level on at a level finer by two. Empty for a frame on the base's grid.
  base::Result<image::Raster<std::uint8_t>> cutOff(int level, const base::Rect& area) const;

 private:
  image::TiledImage picture_;
  Homography toFrame_;  // from the base's px
  base::Size size_;
  float gain_[3] = {1, 1, 1};  // of light
  bool liesOnBase_ = true;
};

/// Errors: invalid (no frame, or more than 250), conflict (pictures of different sizes, or a first one that is not the base).
base::Status checkFrames(const std::vector<Frame>& frames);

/// The whole picture on the base's grid: rgba16, or unchanged if it is there already. Errors: what reading says, cancelled.
base::Result<image::TiledImage> onBase(const Frame& frame, base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
