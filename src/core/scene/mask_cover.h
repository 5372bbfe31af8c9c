#pragma once

#include "core/scene/scene.h"

namespace hseam::scene {

/// The mask with this hand-made part (null = everything) and, if `acts`, its path bounding it: coverage is the one times the
/// path's exact area. `size`: of the layer's mask. Errors: invalid (a hand-made part that is not 8 bit or of another size),
/// outOfMemory, what reading says.
base::Result<Mask> boundedMask(Mask mask, const image::TiledImage& byHand, bool acts, base::Size size,
                               const std::shared_ptr<image::TileMemory>& memory);

}  // namespace hseam::scene
