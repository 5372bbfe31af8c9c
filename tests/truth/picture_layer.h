#pragma once

#include "core/scene/scene.h"

namespace hseam::truth {

/// A layer of one picture where it lies; mask null: all of it shows.
inline scene::LayerRef pictureLayer(std::uint64_t id, const char* name, image::TiledImage picture, image::TiledImage mask) {
  scene::Layer l;
  l.id = {id};
  l.name = name;
  scene::PictureContent p;
  p.source = std::move(picture);
  l.content = std::move(p);
  l.mask.coverage = std::move(mask);
  return std::make_shared<const scene::Layer>(std::move(l));
}

}  // namespace hseam::truth
