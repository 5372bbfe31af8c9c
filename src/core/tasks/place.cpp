#include "core/tasks/place.h"

#include <algorithm>
#include <cmath>

namespace hseam::tasks {

scene::Placement fitted(base::Size picture, base::Size canvas, Fit fit) {
  const double across = double(canvas.width) / picture.width, down = double(canvas.height) / picture.height;
  scene::Placement out;
  out.scale = fit == Fit::cover ? std::max(across, down) : std::min({1.0, across, down});
  out.x = std::round((canvas.width - picture.width * out.scale) / 2);
  out.y = std::round((canvas.height - picture.height * out.scale) / 2);
  return out;
}

scene::Several placed(const scene::Scene& scene, const image::TiledImage& picture, const PlaceOptions& options) {
  scene::Several out{"add " + options.name, {}};
  base::Size canvas = scene.canvas;
  if (scene.layers.empty() && canvas != picture.size()) {
    canvas = picture.size();
    out.edits.push_back({scene::SetCanvas{canvas}});
  }
  scene::Layer l;
  l.id = scene::freeId(scene);
  l.name = options.name;
  scene::PictureContent p;
  p.source = picture;
  p.sourceName = options.sourceName;
  p.sourceHash = options.sourceHash;
  p.about = options.about;
  p.horizonY = options.horizonY;
  p.permission = options.permission;
  p.placement = fitted(picture.size(), canvas, options.fit);
  l.content = std::move(p);
  out.edits.push_back({scene::AddLayer{std::move(l), {}, -1}});
  return out;
}

}  // namespace hseam::tasks
