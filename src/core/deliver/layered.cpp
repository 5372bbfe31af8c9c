#include "core/deliver/layered.h"

#include <set>

#include "core/deliver/merged.h"

namespace hseam::deliver {
namespace {

// Whose shape a layer takes: its caster's, and those that its mask names.
std::set<scene::LayerId> followedBy(const scene::Layer& layer) {
  std::set<scene::LayerId> all;
  if (layer.light()) all.insert(layer.light()->caster);
  for (const scene::MaskPart& part : layer.mask.numbers.parts) {
    if (const auto* other = std::get_if<scene::LayerPart>(&part.kind)) all.insert(other->layer);
  }
  all.erase(layer.id);
  return all;
}

}  // namespace

base::Result<std::vector<std::string>> exportLayered(const scene::Scene& scene, const std::string& path, base::Executor& executor,
                                                     const base::Progress& progress) try {
  std::shared_ptr<image::TileMemory> memory;
  for (const auto& l : scene::allLayers(scene)) {
    if (const auto* p = l->picture()) memory = p->source.memory();
  }
  if (!memory) return base::Error{base::Code::invalid, path, "there is no picture in the scene"};
  const store::FlatLayerSource flat = [&](const scene::Layer* layer) -> base::Result<store::FlatLayer> {
    store::FlatLayer out;
    scene::Scene shown = scene;
    base::Rect area = base::Rect::of(scene.canvas);
    if (layer) {
      scene::Layer alone = *layer;
      alone.hidden = alone.clip = false;
      alone.opacity = 1;
      alone.mode = scene::BlendMode::normal;
      shown.layers.clear();
      // What follows a layer's shape needs that layer, unseen.
      for (const scene::LayerId id : followedBy(alone)) {
        const scene::Layer* followed = scene::findLayer(scene, id);
        if (!followed) continue;
        scene::Layer unseen = *followed;
        unseen.opacity = 0;
        unseen.clip = false;
        shown.layers.push_back(std::make_shared<const scene::Layer>(std::move(unseen)));
      }
      shown.layers.push_back(std::make_shared<const scene::Layer>(std::move(alone)));
      area = scene::boundsOf(scene, *shown.layers.back());
      if (area.empty()) area = {0, 0, 1, 1};  // outside the canvas altogether
    }
    HSEAM_TRY(out.pixels, merged(shown, area, memory, executor, progress));
    out.x = area.x;
    out.y = area.y;
    return out;
  };
  return store::writeOpenRaster(path, scene, flat, progress);
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::deliver
