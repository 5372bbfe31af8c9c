#pragma once

#include "core/scene/scene.h"

namespace hseam::scene {

/// A layer to paint on: a picture of the canvas's size, rgba8 (straight), that covers nothing yet. Its id is free in the scene.
/// It costs no pixels until something is painted.
Layer emptyPainting(const Scene& scene, const std::string& name, const std::shared_ptr<image::TileMemory>& memory);

}  // namespace hseam::scene
