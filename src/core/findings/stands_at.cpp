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
  standing->left = back->map(standing->left);
  standing->right = back->map(standing->right);
  standing->covered = base::boundsOf(*back, standing->covered);
  return standing;
}

base::Point shadowFoot(const scene::Scene& s, const scene::Layer& layer, const matte::Standing& stands) {
  const base::Affine toScene = scene::ownToScene(layer);
  const auto back = toScene.inverse();
  const scene::FloorCamera camera(scene::floorOf(s), s.canvas);
  const auto near = camera.floorAt(toScene.map(stands.foot)), left = camera.floorAt(toScene.map(stands.left)),
             right = camera.floorAt(toScene.map(stands.right));
  if (!back || !near || !left || !right) return stands.foot;
  // Nothing is deeper than it is wide: what bends away above the floor, such as the belly of a vase, is no part of its base.
  const double width = std::abs((*right)[0] - (*left)[0]),
               depth = std::clamp(((*left)[2] + (*right)[2]) / 2 - (*near)[2], 0.0, width / 2);
  const auto middle = camera.project({(*near)[0], 0, (*near)[2] + depth});
  return middle ? back->map(*middle) : stands.foot;
}

}  // namespace hseam::findings
