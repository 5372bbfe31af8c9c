#include "core/render/table_run.h"

namespace hseam::render {
namespace {

// A layer that others are confined to acts together with those.
bool belongs(const std::vector<scene::LayerRef>& layers, std::size_t i) {
  const scene::Layer& l = *layers[i];
  const auto* a = l.adjustment();
  return a && !l.hidden && !l.clip && scene::actsByChannel(a->adjustment) && replacesAll(l) &&
         (i + 1 >= layers.size() || !layers[i + 1]->clip);
}

}  // namespace

bool replacesAll(const scene::Layer& adjustment) {
  return adjustment.mode == scene::BlendMode::normal && adjustment.opacity >= 1 && !adjustment.mask.acts() &&
         !adjustment.mask.actsByNumbers() && adjustment.shows.neutral();
}

std::size_t tableRunEnd(const std::vector<scene::LayerRef>& layers, std::size_t from, std::size_t until) {
  std::size_t end = from;
  while (end < until && belongs(layers, end)) ++end;
  return std::max(end, from + 1);
}

bool dividesTableRun(const std::vector<scene::LayerRef>& layers, std::size_t at) {
  return at > 0 && at < layers.size() && belongs(layers, at - 1) && belongs(layers, at);
}

}  // namespace hseam::render
