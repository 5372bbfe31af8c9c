#include "core/findings/stands_at.h"

#include <algorithm>
#include <cmath>

#include "core/findings/specimen.h"
#include "core/render/renderer.h"

namespace hseam::findings {

base::Result<std::optional<matte::Standing>> standsAt(const scene::Scene& scene, scene::LayerId id) {
  const scene::Layer* layer = scene::findLayer(scene, id);
  if (!layer) return base::Error{base::Code::notFound, "", "the layer is gone"};
  const auto* p = layer->picture();
  if (p && !p->warp && !layer->mask.actsByNumbers() && !layer->mask.numbers.heldAt && layer->mask.acts())
    return matte::standingOf(layer->mask.coverage);
  constexpr int kSide = 1000;
  int level = 0;
  while (std::max(scene.canvas.width, scene.canvas.height) >> level > kSide) ++level;
  base::InlineExecutor here;
  const scene::Scene only = alone(scene, id);
  HSEAM_TRY(const auto seen, render::Renderer().render(only, base::Rect::of(render::canvasAt(only, level)), level, here));
  image::Raster<float> coverage(seen.width(), seen.height(), 1);
  for (std::size_t i = 0; i < coverage.pixels(); ++i) coverage.samples()[i] = seen.samples()[4 * i + 3];
  auto standing = matte::standingIn(coverage, level);
  const auto back = scene::ownToScene(*layer).inverse();
  if (!standing || !back) return std::optional<matte::Standing>();
  standing->foot = back->map(standing->foot);
  for (base::Point& at : standing->line) at = back->map(at);
  for (base::Point& at : standing->below) at = back->map(at);
  standing->covered = base::boundsOf(*back, standing->covered);
  return standing;
}

base::Point shadowFoot(const scene::Scene& s, const scene::Layer& layer, const matte::Standing& stands) {
  // What lies further back than it lies aside stands above the floor: the belly of a vase, a coat. A crate turned by half a
  // right angle has one.
  constexpr double kSteepest = 1.2, kTouches = 0.02;
  const base::Affine toScene = scene::ownToScene(layer);
  const auto back = toScene.inverse();
  const scene::FloorCamera camera(scene::floorOf(s), s.canvas);
  const auto near = camera.floorAt(toScene.map(stands.foot));
  if (!back || !near) return stands.foot;
  struct End {
    double aside = 0, deep = 0;
  } left, right;
  for (const base::Point& p : stands.below) {
    const auto at = camera.floorAt(toScene.map(p));
    if (!at) continue;
    const End end{(*at)[0] - (*near)[0], (*at)[2] - (*near)[2]};
    if (end.deep > kSteepest * std::abs(end.aside) && p.y < stands.foot.y - kTouches * stands.covered.height) continue;
    if (end.aside < left.aside) left = end;
    if (end.aside > right.aside) right = end;
  }
  const double depth = std::clamp((left.deep + right.deep) / 2, 0.0, (right.aside - left.aside) / 2);
  const auto middle = camera.project({(*near)[0], 0, (*near)[2] + depth});
  return middle ? back->map(*middle) : stands.foot;
}

}  // namespace hseam::findings
