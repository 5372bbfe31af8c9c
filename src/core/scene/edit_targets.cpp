#include "core/scene/edit.h"

namespace hseam::scene {
namespace {

struct Targets {
  std::vector<LayerId> operator()(const SetLocked&) const { return {}; }
  std::vector<LayerId> operator()(const SetHidden&) const { return {}; }
  std::vector<LayerId> operator()(const AddLayer& e) const { return {e.parent}; }
  std::vector<LayerId> operator()(const GroupLayers& e) const { return e.layers; }
  std::vector<LayerId> operator()(const MoveLayer& e) const { return {e.layer, e.parent}; }
  std::vector<LayerId> operator()(const Several& e) const {
    std::vector<LayerId> all;
    for (const AnyEdit& each : e.edits) {
      const auto some = changedLayers(each.edit);
      all.insert(all.end(), some.begin(), some.end());
    }
    return all;
  }
  template <class E>
  std::vector<LayerId> operator()(const E& e) const {
    if constexpr (requires { LayerId(e.layer); }) return {e.layer};
    if constexpr (requires { LayerId(e.group); }) return {e.group};
    return {};
  }
};

}  // namespace

std::vector<LayerId> changedLayers(const Edit& edit) {
  return std::visit(Targets{}, edit);
}

const Layer* lockOn(const Scene& scene, LayerId layer) {
  const Layer* outermost = nullptr;
  for (LayerId id = layer; id.value != 0;) {
    const Layer* l = findLayer(scene, id);
    const auto at = positionOf(scene, id);
    if (!l || !at) break;
    if (l->locked) outermost = l;
    id = at->parent;
  }
  return outermost;
}

}  // namespace hseam::scene
