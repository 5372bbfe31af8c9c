#include "core/render/renderer.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <optional>

#include "core/render/blend.h"
#include "core/render/lay.h"
#include "core/render/sample.h"

namespace hseam::render {
namespace {

using base::Affine;
using base::Rect;
using base::Status;
using scene::Layer;
using scene::LayerRef;
using scene::Scene;

// Small enough that all planes of a strip stay in the second-level cache.
constexpr int kStripRows = 32;
constexpr int kBlock = 256;

class StripPainter {
 public:
  StripPainter(const Scene& scene, const Rect& area, int level, BakedAdjustments& baked)
      : scene_(scene),
        area_(area),
        level_(level),
        toLevel_(Affine::scaling(1.0 / (1 << level))),
        count_(area.width * area.height),
        baked_(baked) {}

  Status paint(const std::vector<LayerRef>& layers, Planes& canvas) {
    for (std::size_t i = 0; i < layers.size();) {
      // A base and the confined layers above it act together (sentence 6).
      std::size_t end = i + 1;
      while (end < layers.size() && layers[end]->clip) ++end;
      if (!layers[i]->hidden) {
        const bool run =
            std::any_of(layers.begin() + long(i) + 1, layers.begin() + long(end), [](const LayerRef& l) { return !l->hidden; });
        HSEAM_DO(run && !layers[i]->adjustment() ? paintRun(layers, i, end, canvas) : paintEach(layers, i, end, canvas));
      } else if (layers[i]->clip) {
        HSEAM_DO(paintEach(layers, i, end, canvas));
      }
      i = end;
    }
    return {};
  }

 private:
  // An adjustment as base has no coverage of its own: confined layers above it act through its mask alone, one by one.
  Status paintEach(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas) {
    for (std::size_t i = from; i < end; ++i) {
      if (!layers[i]->hidden) HSEAM_DO(paintOne(*layers[i], canvas));
    }
    return {};
  }

  Status paintRun(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas) {
    if (!reaches(*layers[from])) return {};
    Planes base(count_);
    HSEAM_DO(fillSource(*layers[from], base));
    Planes inside = base;
    std::fill_n(inside.alpha(), count_, 1.f);
    for (std::size_t i = from + 1; i < end; ++i) {
      if (!layers[i]->hidden) HSEAM_DO(paintOne(*layers[i], inside));
    }
    std::copy_n(base.alpha(), count_, inside.alpha());
    put(*layers[from], inside, canvas);
    return {};
  }

  Status paintOne(const Layer& layer, Planes& canvas) {
    if (layer.opacity <= 0 || !reaches(layer)) return {};
    Planes source(count_);
    if (const auto* a = layer.adjustment()) {
      std::fill_n(source.alpha(), count_, 1.f);
      HSEAM_DO(timesMask(layer, source));
      baked_.of(a->adjustment)->apply(canvas, source);
      Planes blended(count_);
      blendPlanes(layer.mode, canvas, source, blended);
      layAdjustment(canvas, source, blended, float(layer.opacity), scene_.mixing);
      return {};
    }
    HSEAM_DO(fillSource(layer, source));
    put(layer, source, canvas);
    return {};
  }

  void put(const Layer& layer, const Planes& source, Planes& canvas) {
    if (layer.mode == scene::BlendMode::normal) {
      layDown(canvas, source, source, float(layer.opacity), scene_.mixing);
      return;
    }
    Planes blended(count_);
    blendPlanes(layer.mode, canvas, source, blended);
    layDown(canvas, source, blended, float(layer.opacity), scene_.mixing);
  }

  // The layer's own colours and coverage, mask included.
  Status fillSource(const Layer& layer, Planes& out) {
    if (const auto* p = layer.picture()) {
      const image::TiledImage& shown = p->shown();
      const Affine m = toLevel_.after(p->placement.toScene(shown.size()));
      return samplePicture({&shown, layer.mask.acts() ? &layer.mask.coverage : nullptr, m}, area_, out);
    }
    std::fill_n(out.alpha(), count_, 0.f);
    for (int c = 0; c < 3; ++c) std::fill_n(out.colour(c), count_, 0.f);
    HSEAM_DO(paint(layer.group()->layers, out));
    return timesMask(layer, out);
  }

  Status timesMask(const Layer& layer, Planes& out) {
    if (!layer.mask.acts()) return {};
    std::vector<float> mask(static_cast<std::size_t>(count_));
    HSEAM_DO(sampleCoverage(layer.mask.coverage, toLevel_, area_, mask.data()));
    for (int i = 0; i < count_; ++i) out.alpha()[i] *= mask[std::size_t(i)];
    return {};
  }

  bool reaches(const Layer& layer) const { return !boundsOf(scene_, layer).coarser(level_).grown(2).intersected(area_).empty(); }

  const Scene& scene_;
  Rect area_;
  int level_;
  Affine toLevel_;
  int count_;
  BakedAdjustments& baked_;
};

}  // namespace

base::Size canvasAt(const Scene& scene, int level) {
  const Rect r = Rect::of(scene.canvas).coarser(level);
  return {r.width, r.height};
}

base::Result<image::Raster<float>> Renderer::render(const Scene& scene, const Rect& area, int level, base::Executor& executor,
                                                    std::stop_token stop) {
  image::Raster<float> out(area.width, area.height, 4);
  const Rect inside = area.intersected(Rect::of(canvasAt(scene, level)));
  if (inside.empty()) return out;
  // Strips stand on a fixed grid of the level, so that sampling windows do not depend on how the area was split.
  std::vector<Rect> strips;
  for (int y = inside.y; y < inside.bottom();) {
    const int nextY = std::min(inside.bottom(), (y / kStripRows + 1) * kStripRows);
    for (int x = inside.x; x < inside.right();) {
      const int nextX = std::min(inside.right(), (x / kBlock + 1) * kBlock);
      strips.push_back({x, y, nextX - x, nextY - y});
      x = nextX;
    }
    y = nextY;
  }
  std::mutex mutex;
  std::optional<base::Error> failed;
  executor.forEach(int(strips.size()), [&](int s) {
    if (stop.stop_requested()) return;
    const Rect r = strips[std::size_t(s)];
    Planes canvas(r.width * r.height);
    if (auto done = StripPainter(scene, r, level, baked_).paint(scene.layers, canvas); !done.ok()) {
      const std::lock_guard lock(mutex);
      failed = done.error();
      return;
    }
    for (int y = 0; y < r.height; ++y) {
      float* to = out.at(r.x - area.x, r.y + y - area.y);
      for (int x = 0; x < r.width; ++x, to += 4) {
        for (int c = 0; c < 4; ++c) to[c] = canvas.colour(c)[y * r.width + x];
      }
    }
  });
  if (failed) return *failed;
  if (stop.stop_requested()) return base::cancelledError();
  return out;
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
