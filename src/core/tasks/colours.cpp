#include "core/tasks/colours.h"

namespace hseam::tasks {

base::Result<image::Raster<float>> coloursOf(const image::TiledImage& picture, int level) {
  const base::Size size = picture.level(level).size;
  HSEAM_TRY(const auto pixels, image::readFloat(picture, level, base::Rect::of(size)));
  image::Raster<float> colours(size.width, size.height, 4, 1.f);
  const int channels = pixels.channels();
  for (std::size_t i = 0; i < pixels.pixels(); ++i) {
    const float* from = pixels.samples().data() + i * std::size_t(channels);
    for (std::size_t c = 0; c < 3; ++c) colours.samples()[4 * i + c] = from[channels < 3 ? 0 : c];
    if (channels == 2 || channels == 4) colours.samples()[4 * i + 3] = from[channels - 1];
  }
  return colours;
}

int levelWithin(const image::TiledImage& picture, double pixels) {
  int level = 0;
  while (level + 1 < picture.levelCount() && double(picture.level(level).size.width) * picture.level(level).size.height > pixels)
    ++level;
  return level;
}

}  // namespace hseam::tasks
