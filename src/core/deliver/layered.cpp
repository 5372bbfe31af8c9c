#include "core/deliver/layered.h"

#include <cmath>
#include <new>

namespace hseam::deliver {
namespace {

// A scene's rendering as straight 8-bit RGBA tiles, the part `area` of it.
base::Result<image::TiledImage> flattened(const scene::Scene& scene, const base::Rect& area,
                                          const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                          const base::Progress& progress) {
  render::Renderer renderer;
  const std::size_t width = std::size_t(area.width);
  return image::tiledFromRows(
      {area.width, area.height}, image::PixelFormat::rgba8, memory, executor, {},
      [&](int first, int count, std::byte* rows) -> base::Status {
        const auto sink = [&](const base::Rect& part, const render::Planes& p) {
          for (int y = 0; y < part.height; ++y) {
            std::byte* to = rows + (std::size_t(part.y - area.y - first + y) * width + std::size_t(part.x - area.x)) * 4;
            for (int x = 0; x < part.width; ++x) {
              for (int c = 0; c < 4; ++c)
                *to++ = std::byte(std::lround(std::clamp(p.colour(c)[y * part.width + x], 0.f, 1.f) * 255));
            }
          }
        };
        return renderer.renderTo(scene, {area.x, area.y + first, area.width, count}, 0, executor, sink, progress.token());
      });
}

}  // namespace

base::Result<std::vector<std::string>> exportLayered(const scene::Scene& scene, const std::string& path, base::Executor& executor,
                                                     const base::Progress& progress) try {
  std::shared_ptr<image::TileMemory> memory;
  for (const auto& l : scene::allLayers(scene)) {
    if (const auto* p = l->picture()) memory = p->source.memory();
  }
  if (!memory) return base::Error{base::Code::invalid, path, "there is no picture in the scene"};
  const store::FlatLayerSource flat = [&](const scene::Layer* layer) -> base::Result<store::FlatLayer> {
    store::FlatLayer out;
    scene::Scene shown = scene;
    base::Rect area = base::Rect::of(scene.canvas);
    if (layer) {
      scene::Layer alone = *layer;
      alone.hidden = alone.clip = false;
      alone.opacity = 1;
      alone.mode = scene::BlendMode::normal;
      shown.layers.clear();
      // What follows a layer's shape needs that layer, unseen.
      const scene::Layer* followed = alone.light() ? scene::findLayer(scene, alone.light()->caster) : nullptr;
      if (followed) {
        scene::Layer unseen = *followed;
        unseen.opacity = 0;
        unseen.clip = false;
        shown.layers.push_back(std::make_shared<const scene::Layer>(std::move(unseen)));
      }
      shown.layers.push_back(std::make_shared<const scene::Layer>(std::move(alone)));
      area = scene::boundsOf(scene, *shown.layers.back());
      if (area.empty()) area = {0, 0, 1, 1};  // outside the canvas altogether
    }
    HSEAM_TRY(out.pixels, flattened(shown, area, memory, executor, progress));
    out.x = area.x;
    out.y = area.y;
    return out;
  };
  return store::writeOpenRaster(path, scene, flat, progress);
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
}

}  // namespace hseam::deliver
