#include "core/scene/look_around.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {

double lookAroundPx(const std::vector<LayerRef>& layers) {
  double above = 0, most = 0;
  for (std::size_t i = layers.size(); i-- > 0;) {
    const Layer& l = *layers[i];
    if (l.hidden) continue;
    if (const auto* a = l.adjustment()) above += std::ceil(reachOf(a->adjustment));
    if (const auto* g = l.group()) most = std::max(most, above + lookAroundPx(g->layers));
  }
  return std::max(most, above);
}

std::size_t layersLookingAround(const std::vector<LayerRef>& layers) {
  std::size_t n = layers.size();
  while (n > 0 && lookAroundPx({layers[n - 1]}) <= 0) --n;
  while (n > 0 && n < layers.size() && layers[n]->clip) ++n;
  return n;
}

bool looksAround(const std::vector<LayerRef>& layers) {
  return std::any_of(layers.begin(), layers.end(), [](const LayerRef& l) {
    if (l->hidden) return false;
    return l->adjustment() ? looksAround(l->adjustment()->adjustment) : l->group() && looksAround(l->group()->layers);
  });
}

double confinedSpreadPx(const std::vector<LayerRef>& layers, std::size_t base) {
  double sum = 0;
  for (std::size_t i = base + 1; i < layers.size() && layers[i]->clip; ++i) {
    const auto* a = layers[i]->hidden ? nullptr : layers[i]->adjustment();
    const auto* n = a ? std::get_if<ParametricAdjustment>(&a->adjustment) : nullptr;
    if (n && n->of().movesCoverage) sum += std::ceil(reachOf(*n));
  }
  return sum;
}

}  // namespace hseam::scene
