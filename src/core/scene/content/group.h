#pragma once

#include <memory>
#include <vector>

namespace hseam::scene {

struct Layer;
struct ContentKind;
using LayerRef = std::shared_ptr<const Layer>;

struct GroupContent {
  static const ContentKind kKind;
  std::vector<LayerRef> layers;  // back to front
  bool isolated = true;
};

}  // namespace hseam::scene
