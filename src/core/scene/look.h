#pragma once
// A look: a stack of adjustments kept under a name, to be used on other pictures.

#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::scene {

/// The adjustments among the layers, back to front, as JSON text: what they do, how strongly, and by which tones and colours.
/// Masks that belong to a place (painted, paths, gradients, other layers) stay behind.
std::string lookRecord(const std::string& name, const std::vector<LayerRef>& layers);

/// The adjustments that act on a layer alone: the confined ones above it, back to front; of an adjustment, itself.
std::vector<LayerRef> adjustmentsOf(const Scene& scene, LayerId layer);

struct Look {
  std::string name;
  std::vector<Layer> layers;  // back to front; ids and names are for the caller to give
};
/// Errors: corrupt, unsupported (an adjustment that this version does not know), invalid (values out of range).
base::Result<Look> lookFromRecord(const std::string& record);

}  // namespace hseam::scene
