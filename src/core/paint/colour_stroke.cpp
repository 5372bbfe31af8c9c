#include "core/paint/colour_stroke.h"

#include <cmath>

#include "core/image/transfer.h"

namespace hseam::paint {

base::Result<image::TiledImage> laidOn(const image::TiledImage& before, const image::TiledImage& now,
                                       const image::TiledImage& coverage, const std::array<double, 3>& colour, bool erase,
                                       const base::Rect& changed, base::Executor& executor) {
  const base::Rect area = changed.intersected(base::Rect::of(before.size()));
  if (area.empty()) return now;
  HSEAM_TRY(auto pixels, image::read8(before, 0, area));
  HSEAM_TRY(const auto cover, image::read8(coverage, 0, area));
  std::array<double, 3> light{};
  for (std::size_t c = 0; c < 3; ++c) light[c] = image::linearFromEncoded(colour[c]);
  const auto byte = [](double v) { return std::uint8_t(std::lround(std::clamp(v, 0.0, 1.0) * 255)); };
  for (std::size_t i = 0; i < cover.samples().size(); ++i) {
    const double m = cover.samples()[i] / 255.0;
    if (m <= 0) continue;
    std::uint8_t* p = pixels.samples().data() + 4 * i;
    const double a = p[3] / 255.0;
    if (erase) {
      p[3] = byte(a * (1 - m));
      continue;
    }
    const double out = m + a * (1 - m);
    for (std::size_t c = 0; c < 3; ++c) {
      const double under = a > 0 ? image::linearFromEncoded(p[c] / 255.0) * a * (1 - m) : 0;
      p[c] = m >= 1 ? byte(colour[c]) : byte(image::encodedFromLinear((m * light[c] + under) / out));
    }
    p[3] = byte(out);
  }
  return image::withPixels(now, area, pixels, executor);
}

}  // namespace hseam::paint
