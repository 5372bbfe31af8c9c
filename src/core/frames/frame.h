#pragma once

#include <vector>

#include "core/image/tiled_image.h"

namespace hseam::frames {

/// One of several pictures that lie on each other, on the pixels of the first, the base.
struct Frame {
  image::TiledImage picture;  // sRGB; alpha 0 where it shows nothing
  image::TiledImage cutOff =
      {};  // grey8, > 127: its camera cut the light off here, what is there is darker than it was. Null: nowhere
};

/// Errors: invalid (no frame, or more than 250), conflict (pictures or masks of different sizes).
base::Status checkFrames(const std::vector<Frame>& frames);

}  // namespace hseam::frames
