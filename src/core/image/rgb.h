#pragma once

#include <algorithm>

#include "core/image/raster.h"

namespace hseam::image {

/// The colours alone: alpha is dropped, grey is repeated. In the values of the input, 3 channels.
inline Raster<float> rgbOf(Raster<float> picture) {
  if (picture.channels() == 3) return picture;
  Raster<float> rgb(picture.width(), picture.height(), 3);
  const std::size_t channels = std::size_t(picture.channels()), last = channels < 3 ? 0 : 2;
  for (std::size_t i = 0; i < rgb.pixels(); ++i) {
    for (std::size_t c = 0; c < 3; ++c) rgb.samples()[i * 3 + c] = picture.samples()[i * channels + std::min(c, last)];
  }
  return rgb;
}

}  // namespace hseam::image
