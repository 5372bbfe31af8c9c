#pragma once
// A layer as JSON for the project file. Pictures are written as names that the store gives them.

#include <functional>
#include <string>

#include "core/scene/scene.h"

namespace hseam::scene {

using ImageName = std::function<std::string(const image::TiledImage&)>;
using ImageByName = std::function<base::Result<image::TiledImage>(const std::string&)>;
using LayerName = std::function<std::string(const LayerRef&)>;
using LayerByName = std::function<base::Result<LayerRef>(const std::string&)>;

/// Children of a group are written by name as well, so that an unchanged child is kept once.
std::string layerRecord(const Layer& layer, const ImageName& image, const LayerName& child);
/// Errors: corrupt.
base::Result<Layer> layerFromRecord(const std::string& record, const ImageByName& image, const LayerByName& child);

/// Canvas, mixing and the names of the top layers.
std::string sceneRecord(const Scene& scene, const LayerName& child);
base::Result<Scene> sceneFromRecord(const std::string& record, const LayerByName& child);

}  // namespace hseam::scene
