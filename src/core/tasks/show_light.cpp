#include "core/tasks/show_light.h"

#include <algorithm>
#include <cmath>

#include "core/measure/shadow_tone.h"
#include "core/render/renderer.h"

namespace hseam::tasks {
namespace {

constexpr int kMostPx = 400;

// The shadow with half of its length on all sides, as the scene shows it.
measure::ShadowTone toneOf(const scene::Scene& s, base::Point foot, base::Point tip, base::Executor& executor) {
  const double reach = std::hypot(tip.x - foot.x, tip.y - foot.y) / 2 + 2;
  const double left = std::min(foot.x, tip.x) - reach, top = std::min(foot.y, tip.y) - reach,
               width = std::abs(foot.x - tip.x) + 2 * reach, height = std::abs(foot.y - tip.y) + 2 * reach;
  int level = 0;
  while (std::max(width, height) / (1 << level) > kMostPx) ++level;
  const double k = 1 << level;
  const base::Size small{int(std::ceil(s.canvas.width / k)), int(std::ceil(s.canvas.height / k))};
  const base::Rect area = base::Rect{int(std::floor(left / k)), int(std::floor(top / k)), int(std::ceil(width / k)) + 1,
                                     int(std::ceil(height / k)) + 1}
                              .intersected(base::Rect::of(small));
  if (area.empty()) return {measure::unavailable("it lies outside of the picture"), {}};
  const auto pixels = render::Renderer().render(s, area, level, executor);
  if (!pixels.ok()) return {measure::unavailable(pixels.error().text()), {}};
  return measure::shadowToneOf(*pixels, {foot.x / k - area.x, foot.y / k - area.y}, {tip.x / k - area.x, tip.y / k - area.y});
}

}  // namespace

base::Result<ShownLight> shownLight(const scene::Scene& s, const scene::SeenShadow& seen, base::Executor& executor) {
  const auto from = scene::lightFromShadow(seen, scene::FloorCamera(scene::floorOf(s), s.canvas));
  if (!from) return base::Error{base::Code::invalid, "light", "no light can be told from that shadow on this floor"};
  ShownLight out{s.light.value_or(scene::PlaceLight{}), {}};
  out.light.casts = true;
  out.light.seen = seen;
  out.light.from.azimuthDeg = from->azimuthDeg;
  out.light.from.elevationDeg = from->elevationDeg;
  const measure::ShadowTone tone = toneOf(s, seen.foot, seen.tip, executor);
  if (tone.left.available) {
    out.light.density = 1;
    out.light.colour = tone.colour;
  } else {
    out.unmeasured = tone.left.reason;
  }
  return out;
}

}  // namespace hseam::tasks
