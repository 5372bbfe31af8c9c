#pragma once
// Adds a picture to a scene.

#include "core/scene/edit.h"

namespace hseam::tasks {

enum class Fit {
  whole,  // all of it is seen, its own size at the most
  cover   // as large as it takes to fill the canvas
};
/// In the middle of the canvas; px of the canvas.
scene::Placement fitted(base::Size picture, base::Size canvas, Fit fit);

struct PlaceOptions {
  std::string name;        // of the layer
  std::string sourceName;  // the file it came from, for people
  std::string sourceHash;  // key of the file in the project; empty if there is none
  image::Metadata about = {};
  Fit fit = Fit::whole;
  std::optional<double> horizonY = {};  // px of the picture: of its own camera
  std::optional<scene::Permission> permission = {};
};
/// A picture in front of everything, with the canvas of its size where there is nothing else yet.
scene::Several placed(const scene::Scene& scene, const image::TiledImage& picture, const PlaceOptions& options);

}  // namespace hseam::tasks
