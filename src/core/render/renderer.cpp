#include "core/render/renderer.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <new>
#include <optional>

#include "core/render/blend.h"
#include "core/render/blocks.h"
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

// Planes of one strip after another in the same, warm memory. One thread.
class Scratch {
 public:
  // Planes on loan; contents unspecified.
  class Loan {
   public:
    Loan(Scratch& from, int count) : from_(from), planes_(from.taken(count)) {}
    ~Loan() { from_.spare_.push_back(std::move(planes_)); }
    Loan(const Loan&) = delete;
    Loan& operator=(const Loan&) = delete;
    Planes& operator*() { return planes_; }
    Planes* operator->() { return &planes_; }

   private:
    Scratch& from_;
    Planes planes_;
  };

 private:
  Planes taken(int count) {
    if (spare_.empty() || spare_.back().count() != count) {
      spare_.clear();
      return Planes(count);
    }
    Planes p = std::move(spare_.back());
    spare_.pop_back();
    return p;
  }
  std::vector<Planes> spare_;
};
using Loan = Scratch::Loan;

class StripPainter {
 public:
  StripPainter(const Scene& scene, const Rect& area, int level, BakedAdjustments& baked, Scratch& scratch)
      : scene_(scene),
        area_(area),
        level_(level),
        toLevel_(Affine::scaling(1.0 / (1 << level))),
        count_(area.width * area.height),
        baked_(baked),
        scratch_(scratch) {}

  // shape, if there is one: the alpha of what these layers alone lay down (semantics.md, 7).
  Status paint(const std::vector<LayerRef>& layers, Planes& canvas, float* shape) {
    return paint(layers, firstSeen(layers, shape), layers.size(), canvas, shape);
  }

  // The scene itself, over what the backdrop keeps of the layers that it stands for.
  Status paintScene(Backdrop* backdrop, Planes& canvas) {
    const std::vector<LayerRef>& layers = scene_.layers;
    const std::size_t seen = firstSeen(layers, nullptr), kept = backdrop ? backdrop->standsFor(scene_, level_) : 0;
    canvas.clear();
    if (seen >= kept) return paint(layers, seen, layers.size(), canvas, nullptr);
    const Rect place = backdrop->placeOf(area_.y);
    const Planes* strip = backdrop->strip(area_.y);
    if (!strip) {
      Planes whole(place.width * place.height);
      whole.clear();
      StripPainter painter(scene_, place, level_, baked_, scratch_);
      HSEAM_DO(painter.paint(layers, painter.firstSeen(layers, nullptr, kept), kept, whole, nullptr));
      backdrop->keep(area_.y, std::move(whole));
      strip = backdrop->strip(area_.y);
    }
    for (int c = 0; c < 4; ++c) {
      for (int y = 0; y < area_.height; ++y)
        std::copy_n(strip->colour(c) + (area_.y - place.y + y) * place.width + area_.x - place.x, area_.width,
                    canvas.colour(c) + y * area_.width);
    }
    return paint(layers, kept, layers.size(), canvas, nullptr);
  }

 private:
  Status paint(const std::vector<LayerRef>& layers, std::size_t from, std::size_t until, Planes& canvas, float* shape) {
    for (std::size_t i = from; i < until;) {
      // A base and the confined layers above it act together (sentence 6).
      std::size_t end = i + 1;
      while (end < until && layers[end]->clip) ++end;
      if (!layers[i]->hidden) {
        const bool run =
            std::any_of(layers.begin() + long(i) + 1, layers.begin() + long(end), [](const LayerRef& l) { return !l->hidden; });
        HSEAM_DO(run && !layers[i]->adjustment() ? paintRun(layers, i, end, canvas, shape)
                                                 : paintEach(layers, i, end, canvas, shape));
      } else if (layers[i]->clip) {
        HSEAM_DO(paintEach(layers, i, end, canvas, shape));
      }
      i = end;
    }
    return {};
  }

  // What lies under a picture that covers the whole strip does not show: the first layer that must be painted.
  std::size_t firstSeen(const std::vector<LayerRef>& layers, const float* shape) const {
    return firstSeen(layers, shape, layers.size());
  }
  std::size_t firstSeen(const std::vector<LayerRef>& layers, const float* shape, std::size_t until) const {
    if (shape) return 0;
    for (std::size_t i = until; i-- > 1;) {
      if (!layers[i]->clip && covers(*layers[i])) return i;
    }
    return 0;
  }

  bool covers(const Layer& layer) const {
    const auto* p = layer.picture();
    if (!p || layer.hidden || layer.opacity < 1 || layer.mode != scene::BlendMode::normal) return false;
    const image::TiledImage& shown = p->shown();
    if (image::hasAlpha(shown.format())) return false;
    const auto back = toLevel_.after(p->placement.toScene(shown.size())).inverse();
    if (!back) return false;
    const Rect reach = base::boundsOf(*back, area_.grown(3)).grown(2);
    if (reach.intersected(Rect::of(shown.size())) != reach) return false;
    return !layer.mask.acts() || image::isUniformIn(layer.mask.coverage, reach, 255);
  }

  // An adjustment as base has no coverage of its own: confined layers above it act through its mask alone, one by one.
  Status paintEach(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas, float* shape) {
    for (std::size_t i = from; i < end; ++i) {
      if (!layers[i]->hidden) HSEAM_DO(paintOne(*layers[i], canvas, shape));
    }
    return {};
  }

  Status paintRun(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas, float* shape) {
    if (!reaches(*layers[from])) return {};
    Loan baseLoan(scratch_, count_), insideLoan(scratch_, count_);
    Planes &base = *baseLoan, &inside = *insideLoan;
    HSEAM_TRY(const bool any, fillSource(*layers[from], base));
    if (!any) return {};
    inside = base;
    std::fill_n(inside.alpha(), count_, 1.f);
    for (std::size_t i = from + 1; i < end; ++i) {
      if (!layers[i]->hidden) HSEAM_DO(paintOne(*layers[i], inside, nullptr));
    }
    std::copy_n(base.alpha(), count_, inside.alpha());
    put(*layers[from], inside, canvas, shape);
    return {};
  }

  Status paintOne(const Layer& layer, Planes& canvas, float* shape) {
    if (layer.opacity <= 0 || !reaches(layer)) return {};
    if (const auto* g = layer.group(); g && !g->isolated) return paintOpenGroup(layer, canvas, shape);
    Loan loan(scratch_, count_);
    Planes& source = *loan;
    if (const auto* a = layer.adjustment()) {
      std::fill_n(source.alpha(), count_, 1.f);
      HSEAM_TRY(const bool any, timesMask(layer, source));
      if (!any) return {};
      baked_.of(a->adjustment)->apply(canvas, source);
      if (layer.mode == scene::BlendMode::normal) {
        layAdjustment(canvas, source, source, float(layer.opacity), scene_.mixing);
        return {};
      }
      Loan blended(scratch_, count_);
      blendPlanes(layer.mode, canvas, source, *blended);
      layAdjustment(canvas, source, *blended, float(layer.opacity), scene_.mixing);
      return {};
    }
    HSEAM_TRY(const bool any, fillSource(layer, source));
    if (any) put(layer, source, canvas, shape);
    return {};
  }

  Status paintOpenGroup(const Layer& layer, Planes& canvas, float* shape) {
    Loan coverLoan(scratch_, count_), insideLoan(scratch_, count_);
    Planes &cover = *coverLoan, &inside = *insideLoan;
    std::fill_n(cover.alpha(), count_, 1.f);
    HSEAM_TRY(const bool any, timesMask(layer, cover));
    if (!any) return {};
    inside = canvas;
    if (layer.mode != scene::BlendMode::normal) {
      std::vector<float> own(std::size_t(inside.padded()));
      HSEAM_DO(paint(layer.group()->layers, inside, own.data()));
      takeOutBackdrop(canvas, own.data(), inside);
      for (int i = 0; i < count_; ++i) inside.alpha()[i] = own[std::size_t(i)] * cover.alpha()[i];
      put(layer, inside, canvas, shape);
      return {};
    }
    std::vector<float> own;
    if (shape) own.assign(shape, shape + inside.padded());
    HSEAM_DO(paint(layer.group()->layers, inside, shape ? own.data() : nullptr));
    for (int i = 0; shape && i < count_; ++i)
      shape[i] += float(layer.opacity) * cover.alpha()[i] * (own[std::size_t(i)] - shape[i]);
    replaceBy(canvas, inside, cover.alpha(), float(layer.opacity), scene_.mixing);
    return {};
  }

  void put(const Layer& layer, const Planes& source, Planes& canvas, float* shape) {
    const auto opacity = float(layer.opacity);
    if (layer.mode == scene::BlendMode::normal) {
      layDown(canvas, source, source, opacity, scene_.mixing);
    } else {
      Loan blended(scratch_, count_);
      blendPlanes(layer.mode, canvas, source, *blended);
      layDown(canvas, source, *blended, opacity, scene_.mixing);
    }
    for (int i = 0; shape && i < count_; ++i) shape[i] += source.alpha()[i] * opacity * (1 - shape[i]);
  }

  // The layer's own colours and coverage, mask included. False: nothing of it shows here.
  base::Result<bool> fillSource(const Layer& layer, Planes& out) {
    if (const auto* p = layer.picture()) {
      const image::TiledImage& shown = p->shown();
      const Affine m = toLevel_.after(p->placement.toScene(shown.size()));
      return samplePicture({&shown, layer.mask.acts() ? &layer.mask.coverage : nullptr, m}, area_, out);
    }
    out.clear();
    HSEAM_DO(paint(layer.group()->layers, out, nullptr));
    return timesMask(layer, out);
  }

  base::Result<bool> timesMask(const Layer& layer, Planes& out) {
    if (!layer.mask.acts()) return true;
    Loan mask(scratch_, count_);
    HSEAM_TRY(const bool any, samplePicture({nullptr, &layer.mask.coverage, toLevel_}, area_, *mask));
    if (!any) return false;
    for (int i = 0; i < count_; ++i) out.alpha()[i] *= mask->alpha()[i];
    return true;
  }

  bool reaches(const Layer& layer) const { return !boundsOf(scene_, layer).coarser(level_).grown(2).intersected(area_).empty(); }

  const Scene& scene_;
  Rect area_;
  int level_;
  Affine toLevel_;
  int count_;
  BakedAdjustments& baked_;
  Scratch& scratch_;
};

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

}  // namespace

base::Size canvasAt(const Scene& scene, int level) {
  const Rect r = Rect::of(scene.canvas).coarser(level);
  return {r.width, r.height};
}

Status Renderer::renderTo(const Scene& scene, const Rect& area, int level, base::Executor& executor, const PartSink& sink,
                          std::stop_token stop, Backdrop* backdrop) try {
  CORE_CHECK(!backdrop || backdrop->block().intersected(area) == area);
  const std::vector<Rect> blocks = cells(area.intersected(Rect::of(canvasAt(scene, level))), kBlockSide, kBlockSide);
  std::mutex mutex;
  std::optional<base::Error> failed;
  executor.forEach(int(blocks.size()), [&](int b) {
    Scratch scratch;
    for (const Rect& r : cells(blocks[std::size_t(b)], kBlockSide, kStripRows)) {
      if (stop.stop_requested()) return;
      Loan canvas(scratch, r.width * r.height);
      if (auto done = StripPainter(scene, r, level, baked_, scratch).paintScene(backdrop, *canvas); !done.ok()) {
        const std::lock_guard lock(mutex);
        failed = done.error();
        return;
      }
      sink(r, *canvas);
    }
  });
  if (failed) return *failed;
  if (stop.stop_requested()) return base::cancelledError();
  return {};
} catch (const std::bad_alloc&) {
  return base::noMemory();
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
} catch (const std::bad_alloc&) {
  return base::noMemory();
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
