#include "core/tasks/measure.h"

#include <algorithm>

#include "core/measure/banding.h"
#include "core/measure/jaggedness.h"
#include "core/measure/light_direction.h"
#include "core/measure/sharpness.h"
#include "core/tasks/colours.h"

namespace hseam::tasks {
namespace {

EdgeNumbers edgeOf(const image::Raster<float>& colours) {
  const auto outline = measure::outlineOf(colours);
  EdgeNumbers e;
  e.softnessPx = measure::softnessOf(outline);
  e.halo = measure::haloOf(colours, outline).size;
  e.jaggednessPx = measure::jaggednessOf(colours, outline);
  e.lightDirection = measure::lightDirectionOf(colours, outline);
  const auto left = measure::leftoversOf(colours);
  e.leftovers = left.size();
  for (const auto& l : left) e.largestLeftoverPx2 = std::max(e.largestLeftoverPx2, l.areaPx);
  return e;
}

void countClipped(const image::Raster<float>& colours, const image::Raster<std::uint8_t>& inside, PictureNumbers& n) {
  double all = 0;
  for (std::size_t i = 0; i < inside.pixels(); ++i) {
    if (inside.samples()[i] == 0) continue;
    const float* c = colours.samples().data() + 4 * i;
    n.blackShare += std::max({c[0], c[1], c[2]}) <= 0.5f / 255;
    n.whiteShare += std::min({c[0], c[1], c[2]}) >= 254.5f / 255;
    all += 1;
  }
  n.blackShare /= std::max(1.0, all);
  n.whiteShare /= std::max(1.0, all);
}

}  // namespace

base::Result<PictureNumbers> measured(const image::TiledImage& picture, const image::TiledImage& mask,
                                      const image::TiledImage& against) {
  const base::Size size = picture.size();
  HSEAM_TRY(image::Raster<float> colours, coloursOf(picture, 0));
  if (!mask.isNull()) {
    HSEAM_TRY(const auto cover, image::readFloat(mask, 0, base::Rect::of(size)));
    for (std::size_t i = 0; i < cover.pixels(); ++i) colours.samples()[4 * i + 3] *= cover.samples()[i];
  }
  constexpr double kMany = 4e6;  // px: every second one says as much
  const auto inside = measure::inside(colours, 0.98f, mask.isNull() ? 0 : 2);
  const measure::Part part{colours, inside};
  const measure::Population p = measure::populationOf(part, double(size.width) * size.height > kMany ? 2 : 1);
  PictureNumbers n;
  n.tones = measure::tonesOf(p);
  n.saturation = measure::saturationOf(p);
  n.light = measure::illuminantOf(part);
  n.grain = measure::grainOf(part);
  n.sharpnessPx = measure::sharpnessOf(part).typical;
  n.banding = measure::bandingOf(part);
  n.horizon = measure::horizonOf(colours);
  countClipped(colours, inside, n);
  if (!mask.isNull() || image::hasAlpha(picture.format())) n.edge = edgeOf(colours);
  if (!against.isNull()) {
    HSEAM_TRY(const image::Raster<float> other, coloursOf(against, 0));
    n.against = measure::exposureBetween(colours, other, inside);
  }
  return n;
}

}  // namespace hseam::tasks
