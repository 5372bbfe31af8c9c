#include "core/findings/found_floor.h"

#include <cmath>

#include "core/image/level.h"
#include "core/image/rgb.h"
#include "core/measure/horizon.h"
#include "core/scene/floor.h"

namespace hseam::findings {
namespace {

scene::LayerRef furthestBack(const scene::Scene& s) {
  for (const scene::LayerRef& l : s.layers) {
    const auto* p = l->picture();
    if (p && !l->hidden && !p->byHand && !p->warp) return l;
  }
  return nullptr;
}

}  // namespace

base::Result<FoundFloor> foundFloor(const scene::Scene& s, const FoundFloor* before) {
  FoundFloor out;
  out.place = furthestBack(s);
  out.canvas = s.canvas;
  if (before && before->place == out.place && before->canvas == out.canvas) return *before;
  if (!out.place) {
    out.reason = "there is no picture of a place";
    return out;
  }
  constexpr double kPixels = 1e6;
  const scene::PictureContent& p = *out.place->picture();
  const int level = image::levelOfAtMost(p.source, kPixels);
  const base::Size small = p.source.level(level).size;
  HSEAM_TRY(auto pixels, image::readFloat(p.source, level, base::Rect::of(small)));
  const measure::Horizon h = measure::horizonOf(image::rgbOf(std::move(pixels)));
  if (!h.y.available) {
    out.reason = h.y.reason;
    return out;
  }
  const double k = double(p.source.size().height) / small.height;
  const base::Affine toScene = p.placement.toScene(p.source.size());
  const base::Point middle = toScene.map({p.source.size().width / 2.0, h.y.value * k});
  scene::Floor floor = scene::usualFloor(s.canvas);
  // Mirrored left to right it leans the other way.
  floor.tiltDeg = (toScene.determinant() < 0 ? -h.tiltDeg : h.tiltDeg) + p.placement.rotationDeg;
  if (std::abs(floor.tiltDeg) > 30) {
    out.reason = "the place is turned too far";
    return out;
  }
  floor.horizonY = middle.y + (s.canvas.width / 2.0 - middle.x) * std::tan(floor.tiltDeg * M_PI / 180);
  if (p.about.focal35Mm > 0) {
    const double longer = std::max(p.source.size().width, p.source.size().height),
                 focalPx = p.about.focal35Mm / 36 * longer * toScene.scale();
    floor.viewAngleDeg = std::clamp(2 * std::atan(s.canvas.width / 2.0 / focalPx) * 180 / M_PI, 5.0, 150.0);
  }
  out.floor = floor;
  out.spreadPx = h.y.spread * k * toScene.scale();
  out.lines = h.lines;
  return out;
}

}  // namespace hseam::findings
