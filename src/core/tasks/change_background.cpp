#include "core/tasks/change_background.h"

#include <algorithm>
#include <cmath>

#include "core/image/pixel_format.h"
#include "core/measure/sharpness.h"
#include "core/tasks/colours.h"
#include "core/tasks/cut_out.h"
#include "core/tasks/place.h"

namespace hseam::tasks {
namespace {

using base::Error;
using base::Result;

struct Working {
  scene::Scene scene;
  scene::Several edit;
  base::Status apply(const scene::Edit& e) {
    HSEAM_TRY(scene, scene::apply(scene, e));
    edit.edits.push_back({e});
    return {};
  }
};

bool isCutOut(const scene::Layer& l) {
  return l.mask.acts() || image::hasAlpha(l.picture()->source.format());
}

base::Status putBehind(Working& w, scene::LayerId subject, scene::LayerId background) {
  const base::Size size = scene::findLayer(w.scene, background)->picture()->source.size();
  HSEAM_DO(w.apply(scene::SetPlacement{background, fitted(size, w.scene.canvas, Fit::cover)}));
  if (scene::findLayer(w.scene, background)->hidden) HSEAM_DO(w.apply(scene::SetHidden{background, false}));
  const scene::Position to = *scene::positionOf(w.scene, subject), from = *scene::positionOf(w.scene, background);
  // The index counts after the background was taken out.
  const bool before = from.parent == to.parent && from.index < to.index;
  HSEAM_DO(w.apply(scene::MoveLayer{background, to.parent, before ? to.index - 1 : to.index}));
  const scene::Layer* parent = scene::findLayer(w.scene, to.parent);
  const auto list = parent ? parent->group()->layers : w.scene.layers;
  for (const scene::LayerRef& l : list) {
    if (l->id == background) break;
    if (l->picture() && !l->hidden && !l->picture()->byHand) HSEAM_DO(w.apply(scene::SetHidden{l->id, true}));
  }
  return {};
}

// The blur of what a picture shows outside a mask (null: everywhere), scene px. Read where a pixel more or less does not matter.
Result<measure::Reading> blurOf(const scene::PictureContent& p, const image::TiledImage& mask) {
  constexpr double kEnough = 3e6;  // px
  const int level = levelWithin(p.source, kEnough);
  const base::Rect all = base::Rect::of(p.source.level(level).size);
  HSEAM_TRY(image::Raster<float> colours, coloursOf(p.source, level));
  if (!mask.isNull()) {
    HSEAM_TRY(const image::Raster<float> cover, image::readFloat(mask, level, all));
    for (std::size_t i = 0; i < colours.pixels(); ++i) colours.samples()[4 * i + 3] = 1 - cover.samples()[i];
  }
  constexpr int kFromTheEdge = 6;
  const auto counts = measure::inside(colours, 0.98f, mask.isNull() ? 0 : kFromTheEdge);
  measure::Reading r = measure::sharpnessOf({colours, counts}).typical;
  r.value *= p.placement.scale * (1 << level);
  return r;
}

// As far out of focus as the subject's own background was.
Result<double> putOutOfFocus(Working& w, scene::LayerId subject, scene::LayerId background) {
  const scene::Layer *s = scene::findLayer(w.scene, subject), *p = scene::findLayer(w.scene, background);
  if (!s->mask.acts()) return 0.0;  // its background is not known
  HSEAM_TRY(const measure::Reading was, blurOf(*s->picture(), s->mask.coverage));
  HSEAM_TRY(const measure::Reading is, blurOf(*p->picture(), {}));
  constexpr double kClearly = 1.2, kLeastPx = 0.5;
  if (!was.available || !is.available || was.value < kClearly * is.value) return 0.0;
  const double px = std::sqrt(was.value * was.value - is.value * is.value);
  if (px < kLeastPx) return 0.0;
  const scene::Position at = *scene::positionOf(w.scene, background);
  scene::Layer blur;
  blur.id = scene::freeId(w.scene);
  blur.name = "out of focus: " + p->name;
  blur.clip = true;
  // As a lens gives it: a disc has the deviation of half of its radius.
  constexpr double kMostPx = 50;
  blur.content =
      scene::AdjustmentContent{scene::with(scene::parametric(scene::AdjustmentId::defocus), "radius", 2 * std::min(px, kMostPx))};
  HSEAM_DO(w.apply(scene::AddLayer{std::move(blur), at.parent, at.index + 1}));
  return px;
}

}  // namespace

Result<BackgroundChange> changeBackground(const scene::Scene& scene, scene::LayerId subject, scene::LayerId background,
                                          const BackgroundOptions& options, base::Executor& executor,
                                          const base::Progress& progress) {
  const scene::Layer *s = scene::findLayer(scene, subject), *p = scene::findLayer(scene, background);
  if (!s || !p) return Error{base::Code::notFound, "", "the subject's or the background's layer is not there"};
  if (subject == background || !s->picture() || !p->picture())
    return Error{base::Code::invalid, p->name, "is no picture that could lie behind " + s->name};
  Working w{scene, {"another background behind " + s->name, {}}};
  BackgroundChange out;
  if (!isCutOut(*s)) {
    HSEAM_TRY(const scene::Several cut, cutLayerOut(w.scene, subject, executor, progress.part(0, 0.5)));
    for (const scene::AnyEdit& e : cut.edits) HSEAM_DO(w.apply(e.edit));
    out.cut = true;
  }
  HSEAM_DO(putBehind(w, subject, background));
  if (options.bringBackground) {
    HSEAM_TRY(out.blurredPx, putOutOfFocus(w, subject, background));
    findings::BelongOptions how;
    how.sceneToSubject = true;
    using findings::KindId;
    how.only = {KindId::blackPoint, KindId::whitePoint, KindId::midTone,  KindId::cast,
                KindId::saturation, KindId::grain,      KindId::sharpness};
    HSEAM_TRY(out.brought, findings::belong(w.scene, subject, how, executor, progress.part(0.5, 1)));
    for (const scene::AnyEdit& e : out.brought.edit.edits) HSEAM_DO(w.apply(e.edit));
  }
  out.edit = std::move(w.edit);
  return out;
}

}  // namespace hseam::tasks
