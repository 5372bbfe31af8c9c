#include "core/scene/up_to.h"

#include <algorithm>

namespace hseam::scene {
namespace {

// The list up to the child `index`, and what is confined to that.
std::vector<LayerRef> firstOf(const std::vector<LayerRef>& list, std::size_t index) {
  std::size_t end = index + 1;
  while (end < list.size() && list[end]->clip) ++end;
  std::vector<LayerRef> out(list.begin(), list.begin() + std::ptrdiff_t(end));
  // A light's caster may stand further in front: it is still needed, though not seen.
  for (std::size_t i = end; i < list.size(); ++i) {
    if (!casts(*list[i])) continue;
    Layer unseen = *list[i];
    unseen.opacity = 0;
    unseen.clip = false;
    out.push_back(std::make_shared<const Layer>(std::move(unseen)));
  }
  return out;
}

}  // namespace

Scene upTo(const Scene& scene, LayerId layer) {
  Scene out = scene;
  // From the layer outwards: each group keeps what comes before the one that was just made shorter.
  LayerRef inner;
  for (auto at = positionOf(scene, layer); at; at = positionOf(scene, layer)) {
    const Layer* parent = findLayer(scene, at->parent);
    const auto& list = parent ? parent->group()->layers : scene.layers;
    std::vector<LayerRef> kept = firstOf(list, std::size_t(at->index));
    if (inner) kept[std::size_t(at->index)] = inner;
    if (!parent) {
      out.layers = std::move(kept);
      break;
    }
    Layer shorter = *parent;
    GroupContent group = *parent->group();
    group.layers = std::move(kept);
    shorter.content = std::move(group);
    inner = std::make_shared<const Layer>(std::move(shorter));
    layer = at->parent;
  }
  return out;
}

}  // namespace hseam::scene
