#pragma once

#include "core/render/renderer.h"
#include "core/store/open_raster.h"

namespace hseam::deliver {

/// Writes the scene as OpenRaster, each picture layer rendered as it is placed, cut and masked. Returns a sentence for each thing
/// that the format cannot hold. Errors: as store::writeOpenRaster.
base::Result<std::vector<std::string>> exportLayered(const scene::Scene& scene, const std::string& path, base::Executor& executor,
                                                     const base::Progress& progress);

}  // namespace hseam::deliver
