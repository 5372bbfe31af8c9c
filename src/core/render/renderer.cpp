#include "core/render/renderer.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <new>
#include <optional>

#include "core/render/blocks.h"
#include "core/render/strip_painter.h"
#include "core/render/underlay.h"
#include "core/scene/look_around.h"

namespace hseam::render {
namespace {

using base::Rect;
using base::Status;
using scene::Layer;
using scene::LayerRef;
using scene::Scene;

// The part of the area on a fixed grid of the level: sampling windows do not depend on how the area was split.
std::vector<Rect> cells(const Rect& inside, int width, int height) {
  std::vector<Rect> out;
  for (int y = inside.y; y < inside.bottom();) {
    const int nextY = std::min(inside.bottom(), (y / height + 1) * height);
    for (int x = inside.x; x < inside.right();) {
      const int nextX = std::min(inside.right(), (x / width + 1) * width);
      out.push_back({x, y, nextX - x, nextY - y});
      x = nextX;
    }
    y = nextY;
  }
  return out;
}

constexpr int kWideBorder = 96;  // px of the level: from here on larger blocks waste less

// Scratch memory of blocks that are done, for the blocks to come: fresh pages cost as much as painting does.
class Warm {
 public:
  struct Memory {
    Scratch strips, wide;
  };
  std::unique_ptr<Memory> taken() {
    const std::lock_guard lock(mutex_);
    if (spare_.empty()) return std::make_unique<Memory>();
    auto memory = std::move(spare_.back());
    spare_.pop_back();
    return memory;
  }
  void back(std::unique_ptr<Memory> memory) {
    const std::lock_guard lock(mutex_);
    spare_.push_back(std::move(memory));
  }

 private:
  std::mutex mutex_;
  std::vector<std::unique_ptr<Memory>> spare_;
};

}  // namespace

base::Size canvasAt(const Scene& scene, int level) {
  const Rect r = Rect::of(scene.canvas).coarser(level);
  return {r.width, r.height};
}

Status Renderer::renderTo(const Scene& scene, const Rect& area, int level, base::Executor& executor, const PartSink& sink,
                          std::stop_token stop, LowerLayers* backdrop) try {
  CORE_CHECK(!backdrop || backdrop->block().intersected(area) == area);
  // Layers that look around are painted in whole blocks with a border, those in front of them in strips.
  const Rect canvasRect = Rect::of(canvasAt(scene, level));
  const int reach = int(std::ceil(scene::lookAroundPx(scene.layers) / (1 << level)));
  const int border = reach + reach % 2;  // effects that work on pairs of px find them whole
  const int side = border > kWideBorder ? 2 * kBlockSide : kBlockSide;
  const std::vector<Rect> blocks = cells(area.intersected(canvasRect), side, side);
  std::mutex mutex;
  std::optional<base::Error> failed;
  Warm warm;
  executor.forEach(int(blocks.size()), [&](int b) {
    const Rect& block = blocks[std::size_t(b)];
    auto memory = warm.taken();
    std::optional<Underlay> underlay;
    if (border > 0)
      underlay.emplace(scene, Rect{block.x / side * side, block.y / side * side, side, side}.intersected(canvasRect), border,
                       level, tools_, memory->wide);
    for (const Rect& r : cells(block, kBlockSide, kStripRows)) {
      if (stop.stop_requested()) return;
      Scratch::Loan canvas(memory->strips, r.width * r.height);
      const auto done =
          StripPainter(scene, r, level, tools_, memory->strips).paintScene(backdrop, underlay ? &*underlay : nullptr, *canvas);
      if (!done.ok()) {
        const std::lock_guard lock(mutex);
        failed = done.error();
        return;
      }
      sink(r, *canvas);
    }
    underlay.reset();
    warm.back(std::move(memory));
  });
  if (failed) return *failed;
  if (stop.stop_requested()) return base::cancelledError();
  return {};
} catch (...) {
  return base::caught();
}

base::Result<image::Raster<float>> Renderer::render(const Scene& scene, const Rect& area, int level, base::Executor& executor,
                                                    std::stop_token stop) try {
  image::Raster<float> out(area.width, area.height, 4);
  const auto into = [&](const Rect& part, const Planes& pixels) {
    for (int y = 0; y < part.height; ++y) {
      float* to = out.at(part.x - area.x, part.y + y - area.y);
      for (int x = 0; x < part.width; ++x, to += 4) {
        for (int c = 0; c < 4; ++c) to[c] = pixels.colour(c)[y * part.width + x];
      }
    }
  };
  HSEAM_DO(renderTo(scene, area, level, executor, into, std::move(stop)));
  return out;
} catch (...) {
  return base::caught();
}

Rect needs(const Layer& layer, const Rect& area, int level) {
  const auto* p = layer.picture();
  CORE_CHECK(p);
  const auto back = p->placement.toScene(p->source.size()).inverse();
  if (!back) return {};
  const int reach = 2 * (2 << level) + 2;
  const int margin = int(std::ceil(reach * std::max(1.0, std::sqrt(std::abs(back->determinant())))));
  return base::boundsOf(*back, area.finer(level)).grown(margin).intersected(Rect::of(p->source.size()));
}

Rect touches(const Layer& layer, const Rect& area) {
  const auto* p = layer.picture();
  CORE_CHECK(p);
  return base::boundsOf(p->placement.toScene(p->source.size()), area.grown(2)).grown(2);
}

}  // namespace hseam::render
