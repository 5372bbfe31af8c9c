#pragma once
// OpenRaster (freedesktop.org's baseline 0.0.5): a zip with stack.xml and a PNG for each layer.

#include <string>
#include <vector>

#include "core/scene/scene.h"

namespace hseam::store {

/// A layer as the format can hold it: pixels at a whole place, straight encoded RGBA.
struct FlatLayer {
  image::TiledImage pixels;  // rgba8
  int x = 0, y = 0;
};
/// What the exporter asks for: a picture layer's own look, placed, cut and masked, without opacity and mode; or everything
/// merged (layer = null).
using FlatLayerSource = std::function<base::Result<FlatLayer>(const scene::Layer* layer)>;

/// Writes the scene's layers, groups, names, opacities, modes and visibility, with merged picture and thumbnail. Returns
/// sentences about what the format cannot hold: masks (baked into the layer), adjustments and confinement (left out of the
/// layers, in the merged picture only), modes it does not name. The file appears whole or not at all. Errors: unwritable,
/// cancelled, what `flat` says.
base::Result<std::vector<std::string>> writeOpenRaster(const std::string& path, const scene::Scene& scene,
                                                       const FlatLayerSource& flat, const base::Progress& progress);

struct OpenRasterRead {
  scene::Scene scene;
  std::vector<std::string> warnings;
};
/// Reads a file made by any program. Paths that lead out of the archive, entities in the XML, more than 4096 layers and
/// archives that unpack to more than the limits of pictures are errors, found before anything is unpacked. Errors: notFound,
/// unreadable, corrupt, unsupported, limitExceeded, cancelled.
base::Result<OpenRasterRead> readOpenRaster(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                            base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::store
