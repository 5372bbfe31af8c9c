#include "core/paint/colour_stroke.h"

#include <cmath>

#include "core/image/transfer.h"

namespace hseam::paint {
namespace {

std::uint8_t byteOf(double v) {
  return std::uint8_t(std::lround(std::clamp(v, 0.0, 1.0) * 255));
}

// An encoded colour over a pixel, by how much it covers.
void layOver(std::uint8_t* pixel, const std::array<double, 3>& colour, double m) {
  const double a = pixel[3] / 255.0, out = m + a * (1 - m);
  for (std::size_t c = 0; c < 3; ++c) {
    const double under = a > 0 ? image::linearFromEncoded(pixel[c] / 255.0) * a * (1 - m) : 0;
    pixel[c] =
        m >= 1 ? byteOf(colour[c]) : byteOf(image::encodedFromLinear((m * image::linearFromEncoded(colour[c]) + under) / out));
  }
  pixel[3] = byteOf(out);
}

// lay(pixel of the painting, its index within the area, how much the stroke covers it)
template <class Lay>
base::Result<image::TiledImage> whereCovered(const image::TiledImage& before, const image::TiledImage& now,
                                             const image::TiledImage& coverage, const base::Rect& area, base::Executor& executor,
                                             const Lay& lay) {
  HSEAM_TRY(auto pixels, image::read8(before, 0, area));
  HSEAM_TRY(const auto cover, image::read8(coverage, 0, area));
  for (std::size_t i = 0; i < cover.samples().size(); ++i) {
    if (cover.samples()[i] > 0) lay(pixels.samples().data() + 4 * i, i, cover.samples()[i] / 255.0);
  }
  return image::withPixels(now, area, pixels, executor);
}

}  // namespace

base::Result<image::TiledImage> laidOn(const image::TiledImage& before, const image::TiledImage& now,
                                       const image::TiledImage& coverage, const std::array<double, 3>& colour, bool erase,
                                       const base::Rect& changed, base::Executor& executor) {
  const base::Rect area = changed.intersected(base::Rect::of(before.size()));
  if (area.empty()) return now;
  return whereCovered(before, now, coverage, area, executor, [&](std::uint8_t* p, std::size_t, double m) {
    if (erase) {
      p[3] = byteOf(p[3] / 255.0 * (1 - m));
    } else {
      layOver(p, colour, m);
    }
  });
}

base::Result<image::TiledImage> laidOn(const image::TiledImage& before, const image::TiledImage& now,
                                       const image::TiledImage& coverage, const image::Raster<float>& colours,
                                       const base::Rect& area, base::Executor& executor) {
  return whereCovered(before, now, coverage, area, executor, [&](std::uint8_t* p, std::size_t i, double m) {
    const float* c = colours.samples().data() + 4 * i;
    const double covers = m * std::clamp(double(c[3]), 0.0, 1.0);
    if (covers > 0) layOver(p, {double(c[0]), double(c[1]), double(c[2])}, covers);
  });
}

}  // namespace hseam::paint
