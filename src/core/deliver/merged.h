#pragma once

#include "core/render/renderer.h"

namespace hseam::deliver {

/// What a scene shows in `area` (px of the canvas), as straight 8-bit colours with alpha. Errors: what rendering says, cancelled.
base::Result<image::TiledImage> merged(const scene::Scene& scene, const base::Rect& area,
                                       const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                       const base::Progress& progress);

}  // namespace hseam::deliver
