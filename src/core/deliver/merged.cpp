#include "core/deliver/merged.h"

#include <cmath>

namespace hseam::deliver {

base::Result<image::TiledImage> merged(const scene::Scene& scene, const base::Rect& area,
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

}  // namespace hseam::deliver
