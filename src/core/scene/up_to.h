#pragma once

#include "core/scene/scene.h"

namespace hseam::scene {

/// The scene without what stands in front of a layer; what is confined to it stays. Whatever casts a light's shadow stays as
/// well, unseen. A layer that is not there: the whole scene.
Scene upTo(const Scene& scene, LayerId layer);

}  // namespace hseam::scene
