#include "core/render/lower_layers.h"

#include <algorithm>

#include "core/render/adjustment_runs.h"
#include "core/render/blocks.h"

namespace hseam::render {
namespace {

// Whether something of these takes another layer's shape: a light its caster's, a mask that of a layer named in it.
bool anyFollows(const std::vector<scene::LayerRef>& layers) {
  return std::any_of(layers.begin(), layers.end(), [](const scene::LayerRef& l) {
    const auto& parts = l->mask.numbers.parts;
    const bool mask = l->mask.enabled && std::any_of(parts.begin(), parts.end(), [](const scene::MaskPart& part) {
                        return std::holds_alternative<scene::LayerPart>(part.kind);
                      });
    return mask || l->light() != nullptr || (l->group() && anyFollows(l->group()->layers));
  });
}

// The layer `at` and the one behind it act together: by being confined to it, or as one table.
bool divides(const std::vector<scene::LayerRef>& layers, std::size_t at) {
  return at < layers.size() && (layers[at]->clip || dividesTableRun(layers, at));
}

}  // namespace

LowerLayers::LowerLayers(const scene::Scene& scene, std::size_t layers, const base::Rect& block, int level)
    : layers_(scene.layers.begin(), scene.layers.begin() + long(std::min(layers, scene.layers.size()))),
      canvas_(scene.canvas),
      mixing_(scene.mixing),
      block_(block),
      level_(level),
      strips_(kBlockSide / kStripRows) {}

std::size_t LowerLayers::standsFor(const scene::Scene& scene, int level) const {
  const bool same = level == level_ && scene.canvas == canvas_ && scene.mixing == mixing_ &&
                    scene.layers.size() >= layers_.size() && std::equal(layers_.begin(), layers_.end(), scene.layers.begin());
  if (!same || divides(scene.layers, layers_.size())) return 0;
  return layers_.size();
}

const Planes* LowerLayers::strip(int y) const {
  return strips_[std::size_t(y % kBlockSide / kStripRows)].get();
}

void LowerLayers::keep(int y, Planes planes) {
  strips_[std::size_t(y % kBlockSide / kStripRows)] = std::make_unique<Planes>(std::move(planes));
}

base::Rect LowerLayers::placeOf(int y) const {
  return base::Rect{block_.x, y / kStripRows * kStripRows, block_.width, kStripRows}.intersected(block_);
}

std::size_t sameFromTheBack(const scene::Scene& a, const scene::Scene& b) {
  if (a.canvas != b.canvas || a.mixing != b.mixing) return 0;
  std::size_t n = 0;
  while (n < a.layers.size() && n < b.layers.size() && a.layers[n] == b.layers[n]) ++n;
  // What follows another layer's shape may change without being another object itself.
  const auto follows = [](const scene::LayerRef& l) { return anyFollows({l}); };
  n = std::size_t(std::find_if(a.layers.begin(), a.layers.begin() + long(n), follows) - a.layers.begin());
  while (n > 0 && (divides(a.layers, n) || divides(b.layers, n))) --n;
  return n;
}

}  // namespace hseam::render
