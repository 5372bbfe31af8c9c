#include "core/findings/depends.h"

#include <algorithm>

#include "core/scene/content/kind.h"

namespace hseam::findings {
namespace {

using scene::LayerId;
using scene::LayerRef;
using scene::Scene;

LayerRef refOf(const std::vector<LayerRef>& layers, LayerId id) {
  for (const LayerRef& l : layers) {
    if (l->id == id) return l;
    if (const auto* g = l->group()) {
      if (LayerRef found = refOf(g->layers, id)) return found;
    }
  }
  return nullptr;
}

}  // namespace

Depends::Depends(const Scene& s, LayerId layer) : canvas_(s.canvas), mixing_(s.mixing), floor_(s.floor), light_(s.light) {
  if (s.judging) tolerance_ = s.judging->tolerance;
  bool passed = false;
  collect(s, s.layers, layer, false, passed);
}

// The layers that it follows: a light its caster, a mask the layer that it is made of, and what they follow in turn.
void Depends::follow(const Scene& s, const scene::Layer& l, int deep) {
  constexpr int kDeepest = 4;
  const auto add = [&](LayerId id) {
    layers_.push_back(refOf(s.layers, id));
    if (layers_.back() && deep < kDeepest) follow(s, *layers_.back(), deep + 1);
  };
  if (const LayerId followed = scene::kindOf(l).follows(l); followed.value != 0) add(followed);
  for (const scene::MaskPart& part : l.mask.numbers.parts) {
    if (const auto* other = std::get_if<scene::LayerPart>(&part.kind)) add(other->layer);
  }
}

// Everything up to the layer, what is confined to it, and in front of it every adjustment, and every light: that says from where
// light falls in the scene.
void Depends::collect(const Scene& s, const std::vector<LayerRef>& layers, LayerId of, bool all, bool& passed) {
  bool confined = false;
  for (const LayerRef& l : layers) {
    confined = confined && l->clip;
    if (const auto* g = l->group()) {
      groups_.push_back({l->id, l->opacity, l->mode, l->clip, l->hidden, g->isolated, l->mask.acts(), l->mask.coverage.stamp(),
                         l->mask.numbers, l->shows});
      follow(s, *l, 0);
      collect(s, g->layers, of, all || confined, passed);
    } else if (all || !passed || confined || l->adjustment() || l->light()) {
      layers_.push_back(l);
      follow(s, *l, 0);
    }
    if (l->id == of) passed = confined = true;
  }
}

}  // namespace hseam::findings
