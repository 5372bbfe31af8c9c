#include "core/render/strip_painter.h"

#include <algorithm>
#include <cmath>

#include "core/render/adjustment_runs.h"
#include "core/render/blend.h"
#include "core/render/effects/effect.h"
#include "core/render/fills.h"
#include "core/render/lay.h"
#include "core/render/lights.h"
#include "core/render/mask_numbers.h"
#include "core/render/sample.h"
#include "core/render/underlay.h"
#include "core/render/warped.h"
#include "core/scene/look_around.h"

namespace hseam::render {
namespace {

bool isSolid(const Planes& p) {
  int open = 0;
  for (int i = 0, n = p.count(); i < n; ++i) open += p.alpha()[i] < 1;
  return open == 0;
}

}  // namespace

using base::Affine;
using base::Rect;
using base::Status;
using scene::Layer;
using scene::LayerRef;
using scene::Scene;
using Loan = Scratch::Loan;

StripPainter::StripPainter(const Scene& scene, const Rect& area, int level, Tools& tools, Scratch& scratch)
    : scene_(scene),
      area_(area),
      level_(level),
      toLevel_(Affine::scaling(1.0 / (1 << level))),
      count_(area.width * area.height),
      tools_(tools),
      scratch_(scratch) {}

// shape, if there is one: the alpha of what these layers alone lay down (semantics.md, 7).
Status StripPainter::paint(const std::vector<LayerRef>& layers, Planes& canvas, float* shape) {
  return paint(layers, firstSeen(layers, shape, layers.size()), layers.size(), canvas, shape);
}

Status StripPainter::paintScene(LowerLayers* backdrop, Underlay* underlay, Planes& canvas) {
  const std::vector<LayerRef>& layers = scene_.layers;
  const std::size_t kept = backdrop ? backdrop->standsFor(scene_, level_) : 0;
  if (kept <= (underlay ? underlay->layers() : 0) || firstSeen(layers, nullptr, layers.size()) >= kept)
    return paintUntil(layers.size(), underlay, canvas);
  const Rect place = backdrop->placeOf(area_.y);
  const Planes* strip = backdrop->strip(area_.y);
  if (!strip) {
    Planes whole(place.width * place.height);
    HSEAM_DO(StripPainter(scene_, place, level_, tools_, scratch_).paintUntil(kept, underlay, whole));
    backdrop->keep(area_.y, std::move(whole));
    strip = backdrop->strip(area_.y);
  }
  copyPart(*strip, place, area_, canvas);
  return paint(layers, kept, layers.size(), canvas, nullptr);
}

Status StripPainter::paintUntil(std::size_t until, Underlay* underlay, Planes& canvas) {
  const std::size_t seen = firstSeen(scene_.layers, nullptr, until), under = underlay ? underlay->layers() : 0;
  if (seen >= under) {
    // A picture that covers the strip is the canvas itself: laid on nothing it would come out with the same bits.
    const bool confines = seen + 1 < until && scene_.layers[seen + 1]->clip;
    if (seen < until && !confines && covers(*scene_.layers[seen])) {
      HSEAM_TRY(const bool any, fillSource(*scene_.layers[seen], canvas));
      if (any) return paint(scene_.layers, seen + 1, until, canvas, nullptr);
    }
    canvas.clear();
    return paint(scene_.layers, seen, until, canvas, nullptr);
  }
  HSEAM_TRY(const Planes* below, underlay->planes());
  copyPart(*below, underlay->area(), area_, canvas);
  return paint(scene_.layers, under, until, canvas, nullptr);
}

Status StripPainter::paint(const std::vector<LayerRef>& layers, std::size_t from, std::size_t until, Planes& canvas,
                           float* shape) {
  for (std::size_t i = from; i < until;) {
    // A base and the confined layers above it act together (sentence 6).
    std::size_t end = i + 1;
    while (end < until && layers[end]->clip) ++end;
    if (const std::size_t together = adjustmentRunEnd(layers, i, until); together > i) {
      paintAdjustments(layers, i, together, canvas);
      end = together;
    } else if (!layers[i]->hidden) {
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
std::size_t StripPainter::firstSeen(const std::vector<LayerRef>& layers, const float* shape, std::size_t until) const {
  if (shape) return 0;
  for (std::size_t i = until; i-- > 1;) {
    if (!layers[i]->clip && covers(*layers[i]) && scene::confinedSpreadPx(layers, i) == 0) return i;
  }
  return 0;
}

bool StripPainter::covers(const Layer& layer) const {
  const auto* p = layer.picture();
  if (!layer.mask.numbers.neutral() || !layer.shows.neutral()) return false;
  if (!p || p->warp || layer.hidden || layer.opacity < 1 || layer.mode != scene::BlendMode::normal) return false;
  const image::TiledImage& shown = p->shown();
  if (image::hasAlpha(shown.format())) return false;
  const auto back = toLevel_.after(p->placement.toScene(shown.size())).inverse();
  if (!back) return false;
  const Rect reach = base::boundsOf(*back, area_.grown(3)).grown(2);
  if (reach.intersected(Rect::of(shown.size())) != reach) return false;
  return !layer.mask.acts() || image::isUniformIn(layer.mask.coverage, reach, 255);
}

// An adjustment as base has no coverage of its own: confined layers above it act through its mask alone, one by one.
Status StripPainter::paintEach(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas,
                               float* shape) {
  for (std::size_t i = from; i < end; ++i) {
    if (!layers[i]->hidden) HSEAM_DO(paintOne(*layers[i], canvas, shape));
  }
  return {};
}

Status StripPainter::paintRun(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas,
                              float* shape) {
  if (!reaches(*layers[from], scene::confinedSpreadPx(layers, from))) return {};
  Loan baseLoan(scratch_, count_), insideLoan(scratch_, count_);
  Planes &base = *baseLoan, &inside = *insideLoan;
  HSEAM_TRY(const bool any, fillSource(*layers[from], base));
  if (!any) return {};
  inside = base;
  std::fill_n(inside.alpha(), count_, 1.f);
  for (std::size_t i = from + 1; i < end; ++i) {
    const Layer& l = *layers[i];
    if (l.hidden) continue;
    if (l.adjustment() && scene::looksAround(l.adjustment()->adjustment)) {
      // Effects see the base's coverage; a blur changes it (sentence 14).
      std::copy_n(base.alpha(), count_, inside.alpha());
      HSEAM_DO(paintEffect(l, inside, &canvas));
      std::copy_n(inside.alpha(), count_, base.alpha());
      std::fill_n(inside.alpha(), count_, 1.f);
    } else {
      HSEAM_DO(paintOne(l, inside, nullptr));
    }
  }
  std::copy_n(base.alpha(), count_, inside.alpha());
  put(*layers[from], inside, canvas, shape);
  return {};
}

Status StripPainter::paintOne(const Layer& layer, Planes& canvas, float* shape) {
  if (layer.opacity <= 0 || !reaches(layer)) return {};
  if (const auto* g = layer.group(); g && !g->isolated) return paintOpenGroup(layer, canvas, shape);
  if (const auto* a = layer.adjustment())
    return scene::looksAround(a->adjustment) ? paintEffect(layer, canvas, nullptr) : paintAdjustment(layer, canvas);
  Loan loan(scratch_, count_);
  Planes& source = *loan;
  HSEAM_TRY(const bool any, fillSource(layer, source));
  if (any) put(layer, source, canvas, shape);
  return {};
}

void StripPainter::paintAdjustments(const std::vector<LayerRef>& layers, std::size_t from, std::size_t end, Planes& canvas) {
  std::vector<std::shared_ptr<const BakedAdjustment>> all;
  for (std::size_t i = from; i < end;) {
    const std::size_t next = tableRunEnd(layers, i, end);
    std::vector<const scene::Adjustment*> steps;
    for (; i < next; ++i) steps.push_back(&layers[i]->adjustment()->adjustment);
    all.push_back(tools_.baked.of(steps));
  }
  replaceColours(all, canvas);
}

// A picture without holes takes the short way, which gives the same bits: what would be laid down is the outcome itself.
void StripPainter::replaceColours(const std::vector<std::shared_ptr<const BakedAdjustment>>& by, Planes& canvas) {
  if (isSolid(canvas)) {
    applyAll(by, canvas);
    return;
  }
  Loan loan(scratch_, count_);
  std::fill_n(loan->alpha(), count_, 1.f);
  for (const auto& a : by) {
    a->apply(canvas, *loan);
    layAdjustment(canvas, *loan, *loan, 1, scene_.mixing);
  }
}

Status StripPainter::paintAdjustment(const Layer& layer, Planes& canvas) {
  const auto baked = tools_.baked.of({&layer.adjustment()->adjustment});
  if (replacesAll(layer)) {
    replaceColours({baked}, canvas);
    return {};
  }
  Loan loan(scratch_, count_);
  Planes& source = *loan;
  std::fill_n(source.alpha(), count_, 1.f);
  HSEAM_TRY(const bool any, timesMask(layer, source, canvas));
  if (!any) return {};
  baked->apply(canvas, source);
  showByTone(layer.shows, source, canvas, source.alpha());
  if (layer.mode == scene::BlendMode::normal) {
    layAdjustment(canvas, source, source, float(layer.opacity), scene_.mixing);
    return {};
  }
  Loan blended(scratch_, count_);
  blendPlanes(layer.mode, canvas, source, *blended);
  layAdjustment(canvas, source, *blended, float(layer.opacity), scene_.mixing);
  return {};
}

Status StripPainter::paintEffect(const Layer& layer, Planes& canvas, const Planes* behind) {
  if (layer.opacity <= 0) return {};
  const EffectWindow window{area_, level_, scene_.canvas};
  const auto& effect = std::get<scene::ParametricAdjustment>(layer.adjustment()->adjustment);
  if (replacesAll(layer)) {
    applyEffect(effect, window, canvas, behind);
    return {};
  }
  Loan coverLoan(scratch_, count_), outcomeLoan(scratch_, count_);
  Planes &cover = *coverLoan, &outcome = *outcomeLoan;
  std::fill_n(cover.alpha(), count_, 1.f);
  HSEAM_TRY(const bool any, timesMask(layer, cover, canvas));
  if (!any) return {};
  outcome = canvas;
  applyEffect(effect, window, outcome, behind);
  showByTone(layer.shows, outcome, canvas, cover.alpha());
  if (layer.mode == scene::BlendMode::normal) {
    replaceBy(canvas, outcome, cover.alpha(), float(layer.opacity), scene_.mixing);
    return {};
  }
  // With another mode an effect gives colours to blend, as any adjustment does; coverage stays.
  std::copy_n(cover.alpha(), count_, outcome.alpha());
  Loan blended(scratch_, count_);
  blendPlanes(layer.mode, canvas, outcome, *blended);
  layAdjustment(canvas, outcome, *blended, float(layer.opacity), scene_.mixing);
  return {};
}

Status StripPainter::paintOpenGroup(const Layer& layer, Planes& canvas, float* shape) {
  Loan coverLoan(scratch_, count_), insideLoan(scratch_, count_);
  Planes &cover = *coverLoan, &inside = *insideLoan;
  std::fill_n(cover.alpha(), count_, 1.f);
  HSEAM_TRY(const bool any, timesMask(layer, cover, canvas));
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

void StripPainter::put(const Layer& layer, const Planes& given, Planes& canvas, float* shape) {
  std::optional<Loan> shown;
  if (!layer.shows.neutral()) {
    shown.emplace(scratch_, count_);
    **shown = given;
    showByTone(layer.shows, given, canvas, (*shown)->alpha());
  }
  const Planes& source = shown ? **shown : given;
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
base::Result<bool> StripPainter::fillSource(const Layer& layer, Planes& out) {
  return std::visit([&](const auto& content) { return fillFrom(layer, content, out); }, layer.content);
}

base::Result<bool> StripPainter::fillFrom(const Layer& layer, const scene::PictureContent& p, Planes& out) {
  const image::TiledImage& shown = p.shown();
  const Affine m = toLevel_.after(p.placement.toScene(shown.size()));
  const bool numbers = layer.mask.actsByNumbers();
  const image::TiledImage* mask = layer.mask.acts() && !numbers ? &layer.mask.coverage : nullptr;
  bool any = false;
  if (p.warp) {
    const auto way = tools_.inverseWarps.of(p.warp, shown.size(), level_);
    HSEAM_TRY(any, sampleWarped({&shown, mask, m, way.get()}, area_, out));
  } else {
    HSEAM_TRY(any, samplePicture({&shown, mask, m}, area_, out));
  }
  return any && numbers ? timesNumbers(layer, out, out) : base::Result<bool>(any);
}

base::Result<bool> StripPainter::fillFrom(const Layer& layer, const scene::LightContent& light, Planes& out) {
  if (withinShape_) return false;
  const ShapeOf shapeOf = [this](const Layer& caster, int level, const Rect& area) -> base::Result<image::Raster<float>> {
    // What looks around within it needs its surroundings.
    const int border = caster.group() ? int(std::ceil(scene::lookAroundPx(caster.group()->layers) / (1 << level))) : 0;
    const Rect wide = area.grown(border).intersected(Rect::of(scene_.canvas).coarser(level));
    Scratch scratch;
    HSEAM_TRY(const image::Raster<float> all, StripPainter(scene_, wide, level, tools_, scratch).shapeOf(caster));
    image::Raster<float> part(area.width, area.height, 1);
    for (int y = 0; y < area.height; ++y) std::copy_n(all.at(area.x - wide.x, area.y - wide.y + y), area.width, part.at(0, y));
    return part;
  };
  HSEAM_TRY(const bool any, paintLight(scene_, light, area_, level_, shapeOf, out));
  return any ? timesMask(layer, out, out) : base::Result<bool>(false);
}

base::Result<bool> StripPainter::fillFrom(const Layer& layer, const scene::FillContent& f, Planes& out) {
  paintFill(f.fill, area_, level_, out);
  return timesMask(layer, out, out);
}

base::Result<bool> StripPainter::fillFrom(const Layer&, const scene::AdjustmentContent&, Planes&) {
  return false;  // it has no colours of its own
}

base::Result<bool> StripPainter::fillFrom(const Layer& layer, const scene::GroupContent& g, Planes& out) {
  out.clear();
  HSEAM_DO(paint(g.layers, out, nullptr));
  return timesMask(layer, out, out);
}

base::Result<image::Raster<float>> StripPainter::shapeOf(const Layer& layer) {
  withinShape_ = true;
  Loan loan(scratch_, count_);
  HSEAM_TRY(const bool any, fillSource(layer, *loan));
  image::Raster<float> out(area_.width, area_.height, 1, 0.f);
  if (any) std::copy_n(loan->alpha(), count_, out.at(0, 0));
  return out;
}

bool StripPainter::reaches(const Layer& layer, double spreadPx) const {
  const auto* p = layer.picture();
  // Where a bend ends is worked out once, and not for every strip.
  const Rect all = p && p->warp ? base::boundsOf(p->placement.toScene(p->shown().size()),
                                                 tools_.inverseWarps.of(p->warp, p->shown().size(), level_)->bounds())
                                      .grown(3)
                                : boundsOf(scene_, layer);
  return !all.grown(int(spreadPx)).coarser(level_).grown(2).intersected(area_).empty();
}

}  // namespace hseam::render
