#pragma once

#include "core/image/tiled_image.h"

namespace hseam::image {

/// The finest level with at most so many pixels; the last one if none has so few.
inline int levelOfAtMost(const TiledImage& image, double pixels) {
  int level = 0;
  while (level + 1 < image.levelCount() && double(image.level(level).size.width) * image.level(level).size.height > pixels)
    ++level;
  return level;
}

}  // namespace hseam::image
