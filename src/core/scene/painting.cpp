#include "core/scene/painting.h"

#include <array>

namespace hseam::scene {

Layer emptyPainting(const Scene& scene, const std::string& name, const std::shared_ptr<image::TileMemory>& memory) {
  const std::array<std::byte, 4> nothing{};
  PictureContent p;
  p.source = image::TiledImage::uniform(scene.canvas, image::PixelFormat::rgba8, nothing, memory);
  p.byHand = true;
  Layer l;
  l.id = freeId(scene);
  l.name = name;
  l.content = std::move(p);
  return l;
}

}  // namespace hseam::scene
