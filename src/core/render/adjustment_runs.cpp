#include "core/render/adjustment_runs.h"

namespace hseam::render {
namespace {

// A layer that others are confined to acts together with those.
bool runs(const std::vector<scene::LayerRef>& layers, std::size_t i) {
  const scene::Layer& l = *layers[i];
  const auto* a = l.adjustment();
  return a && !l.hidden && !l.clip && !scene::looksAround(a->adjustment) && replacesAll(l) &&
         (i + 1 >= layers.size() || !layers[i + 1]->clip);
}

bool isTable(const scene::Layer& adjustment) {
  return scene::actsByChannel(adjustment.adjustment()->adjustment);
}

}  // namespace

bool replacesAll(const scene::Layer& adjustment) {
  return adjustment.mode == scene::BlendMode::normal && adjustment.opacity >= 1 && !adjustment.mask.acts() &&
         !adjustment.mask.actsByNumbers() && adjustment.shows.neutral();
}

std::size_t adjustmentRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until) {
  std::size_t end = from;
  while (end < until && runs(layers, end)) ++end;
  return end;
}

std::size_t tableRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until) {
  std::size_t end = from;
  while (end < until && isTable(*layers[end])) ++end;
  return std::max(end, from + 1);
}

bool dividesTableRun(const std::vector<scene::LayerRef>& layers, std::size_t at) {
  return at > 0 && at < layers.size() && runs(layers, at - 1) && runs(layers, at) && isTable(*layers[at - 1]) &&
         isTable(*layers[at]);
}

}  // namespace hseam::render
