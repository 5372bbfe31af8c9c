#pragma once
// One of several pictures of a place on the pixels of the first, the base. It is brought there where it is read: of a large set
// only what is looked at is ever resampled.

#include <vector>

#include "core/frames/homography.h"
#include "core/frames/light.h"
#include "core/image/tiled_image.h"

namespace hseam::frames {

/// A value; copying costs a pointer. Any thread may read it.
class Frame {
 public:
  /// It lies on the base already. sRGB; alpha 0 where it shows nothing.
  Frame(image::TiledImage picture);  // NOLINT(google-explicit-constructor): a picture of a set is a frame as it is
  /// toBase: from its px to the base's. light: taken out, so that exposure and white balance are the base's.
  Frame(image::TiledImage picture, const Homography& toBase, base::Size base, const LightChange& light);

  bool liesOnBase() const { return liesOnBase_; }
  /// Of the base.
  base::Size size() const { return size_; }
  /// The picture as it came.
  const image::TiledImage& picture() const { return picture_; }

  /// An area of a level of the base, encoded, 0..1. As the picture's channels where it lies on the base; else 4, resampled in
  /// light (Keys' cubic 1981) from the picture's own level, alpha 1 or, where it shows nothing, 0 with black. Errors: what
  /// reading says.
  base::Result<image::Raster<float>> read(int level, const base::Rect& area) const;
  /// How much of each px, 0..255, the camera cut the light off: what is there is darker than it was. Nearest px of the level,
  /// from the second on of the level that is finer by two. Empty where the frame lies on the base.
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

/// The whole picture on the base's pixels: rgba16, or as it is where it lies there. Errors: what reading says, cancelled.
base::Result<image::TiledImage> onBase(const Frame& frame, base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::frames
