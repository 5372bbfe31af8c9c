#include "core/findings/depends.h"

#include <algorithm>

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

Depends::Depends(const Scene& s, LayerId layer) : canvas_(s.canvas), mixing_(s.mixing), floor_(s.floor) {
  if (s.judging) tolerance_ = s.judging->tolerance;
  bool passed = false;
  collect(s, s.layers, layer, passed);
}

// With the layers that it follows: a light its caster, a mask the layer that it is made of.
void Depends::add(const Scene& s, const LayerRef& l) {
  layers_.push_back(l);
  if (const auto* light = l->light()) layers_.push_back(refOf(s.layers, light->caster));
  for (const scene::MaskPart& part : l->mask.numbers.parts) {
    if (const auto* other = std::get_if<scene::LayerPart>(&part.kind)) layers_.push_back(refOf(s.layers, other->layer));
  }
}

// Everything up to the layer, what is confined to it, and every adjustment in front of it.
void Depends::collect(const Scene& s, const std::vector<LayerRef>& layers, LayerId of, bool& passed) {
  bool confined = false;
  for (const LayerRef& l : layers) {
    confined = confined && l->clip;
    if (const auto* g = l->group()) {
      groups_.push_back({l->id, l->opacity, l->mode, l->clip, l->hidden, g->isolated, l->mask.acts(), l->mask.coverage.stamp(),
                         l->mask.numbers, l->shows});
      collect(s, g->layers, of, passed);
    } else if (!passed || confined || l->adjustment()) {
      add(s, l);
    }
    if (l->id == of) passed = confined = true;
  }
}

}  // namespace hseam::findings
