#include "core/render/canvas_change.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/path/edit.h"
#include "core/render/sample.h"
#include "core/scene/mask_cover.h"

namespace hseam::render {
namespace {

using base::Affine;
using base::Result;
using base::Size;
using image::TiledImage;

double scaleOf(const Affine& m) {
  return std::sqrt(std::abs(m.determinant()));
}
double degreesOf(const Affine& m) {
  return std::atan2(m.c, m.a) * 180 / M_PI;
}

// A placement such that its map is `m` after the old one: the picture's middle decides where it goes.
scene::Placement followed(const scene::Placement& p, Size picture, const Affine& m) {
  const base::Point middle = m.map(p.toScene(picture).map({picture.width / 2.0, picture.height / 2.0}));
  scene::Placement out = p;
  out.scale = p.scale * scaleOf(m);
  out.rotationDeg = std::remainder(p.rotationDeg + degreesOf(m), 360);
  out.x = middle.x - out.scale * picture.width / 2;
  out.y = middle.y - out.scale * picture.height / 2;
  return out;
}

std::vector<scene::Guide> followed(const std::vector<scene::Guide>& guides, const Affine& m) {
  if (m.b != 0 || m.c != 0) return {};
  std::vector<scene::Guide> out = guides;
  for (scene::Guide& g : out) {
    g.at = g.vertical ? m.a * g.at + m.e : m.d * g.at + m.f;
    if (g.meets) g.meets = m.map(*g.meets);
  }
  return out;
}

// Lengths of an adjustment of the table grow with the canvas.
scene::ParametricAdjustment followed(scene::ParametricAdjustment n, double k) {
  for (std::size_t i = 0; i < n.values.size(); ++i) {
    const scene::AdjustmentField& f = n.of().fields[i];
    if (std::string(f.unit) == "px") n.values[i] = std::clamp(n.values[i] * k, f.low, f.high);
  }
  return n;
}

scene::Floor followed(scene::Floor f, Size before, const CanvasChange& change) {
  const double tilt = (f.tiltDeg + degreesOf(change.toNew)) * M_PI / 180;
  const base::Point at = change.toNew.map({before.width / 2.0, f.horizonY});
  const double focal = before.width / 2.0 / std::tan(f.viewAngleDeg * M_PI / 360) * scaleOf(change.toNew);
  f.horizonY = at.y + std::tan(tilt) * (change.size.width / 2.0 - at.x);
  f.tiltDeg = std::clamp(tilt * 180 / M_PI, -45.0, 45.0);
  f.viewAngleDeg = std::clamp(360 / M_PI * std::atan(change.size.width / 2.0 / focal), 5.0, 150.0);
  return f;
}

scene::LightContent followed(scene::LightContent light, Size before, const Affine& m) {
  const double k = scaleOf(m);
  if (auto* s = std::get_if<scene::CastShadow>(&light.kind); s && s->wallY > 0)
    s->wallY = std::max(0.0, m.map({before.width / 2.0, s->wallY}).y);
  if (auto* s = std::get_if<scene::ContactShadow>(&light.kind)) s->widthPx = std::clamp(s->widthPx * k, 0.5, 400.0);
  if (auto* s = std::get_if<scene::Shading>(&light.kind)) s->roundPx = std::clamp(s->roundPx * k, 2.0, 1000.0);
  if (auto* s = std::get_if<scene::EdgeLight>(&light.kind)) s->widthPx = std::clamp(s->widthPx * k, 0.5, 400.0);
  return light;
}

// Of a mask on the canvas.
scene::MaskNumbers followed(scene::MaskNumbers n, const Affine& m) {
  for (scene::MaskPart& p : n.parts) {
    if (auto* g = std::get_if<scene::GradientPart>(&p.kind)) g->from = m.map(g->from), g->to = m.map(g->to);
  }
  n.softnessPx = std::clamp(n.softnessPx * scaleOf(m), 0.0, 200.0);
  return n;
}

// Straight lines of words that are turned go on along a line of their own.
std::shared_ptr<const text::Lettering> followed(text::Lettering t, const Affine& m) {
  using Align = text::Lettering::Align;
  t.sizePx = std::clamp(t.sizePx * scaleOf(m), 2.0, 8000.0);
  t.at = m.map(t.at);
  if (t.along) {
    t.along = std::make_shared<const path::Path>(path::mapped(*t.along, m));
  } else if (std::abs(degreesOf(m)) > 1e-9) {
    const double turn = degreesOf(m) * M_PI / 180, before = t.align == Align::left ? 0 : (t.align == Align::centre ? 0.5 : 1);
    const auto at = [&](double s) {
      return path::corner({t.at.x + s * t.sizePx * std::cos(turn), t.at.y + s * t.sizePx * std::sin(turn)});
    };
    t.along = std::make_shared<const path::Path>(path::Path{{{{at(-before), at(1 - before)}, false, path::Joins::add}}});
  }
  return std::make_shared<const text::Lettering>(std::move(t));
}

bool turnsOrMirrors(const Affine& m) {
  return std::abs(m.b) + std::abs(m.c) > 1e-9 || m.a < 0 || m.d < 0;
}

// Bent words. Where the canvas turns, they stay upright about the same middle and their corners turn, so that they can be changed
// and bent further as they were.
void followBent(scene::FillContent& fill, const Affine& m) {
  const scene::Bend& bend = *fill.bend;
  const bool turned = turnsOrMirrors(m);
  Affine upright = m;
  if (turned) {
    const base::Point middle{bend.box.x + bend.box.width / 2.0, bend.box.y + bend.box.height / 2.0}, to = m.map(middle);
    const double k = scaleOf(m);
    upright = {k, 0, 0, k, to.x - k * middle.x, to.y - k * middle.y};
  }
  const base::Rect box = base::boundsOf(upright, bend.box);
  const Affine grow{double(box.width) / bend.box.width, 0, 0, double(box.height) / bend.box.height, 0, 0};
  scene::Warp warp = scene::scaled(bend.warp, grow);
  if (turned) {
    const double w = bend.box.width, h = bend.box.height;
    warp.corners = bend.warp.corners.empty() ? std::vector<base::Point>{{0, 0}, {w, 0}, {w, h}, {0, h}} : bend.warp.corners;
    for (base::Point& c : warp.corners) {
      const base::Point p = m.map({bend.box.x + c.x, bend.box.y + c.y});
      c = {p.x - box.x, p.y - box.y};
    }
  }
  fill.lettering = followed(*fill.lettering, upright);
  fill.bend = std::make_shared<const scene::Bend>(scene::Bend{box, std::move(warp)});
}

// A fill with its gradient, its stroke and the mask that gives it its shape.
Result<scene::Edit> followed(const scene::Layer& l, const CanvasChange& change, base::Executor& executor) {
  const double k = scaleOf(change.toNew);
  scene::SetFill out{l.id, *l.fill(), l.mask};
  if (auto* g = std::get_if<scene::GradientFill>(&out.fill.fill))
    g->from = change.toNew.map(g->from), g->to = change.toNew.map(g->to);
  if (auto* n = std::get_if<scene::NoiseFill>(&out.fill.fill)) n->sizePx = std::clamp(n->sizePx * k, 1.0, 4000.0);
  scene::Mask& mask = out.mask;
  mask.numbers = followed(mask.numbers, change.toNew);
  if (out.fill.lettering && out.fill.bend) {
    followBent(out.fill, change.toNew);
  } else if (out.fill.lettering) {
    out.fill.lettering = followed(*out.fill.lettering, change.toNew);
  }
  if (mask.path) mask.path = std::make_shared<const path::Path>(path::mapped(*mask.path, change.toNew));
  if (out.fill.stroke) {
    scene::Stroke stroke{path::mapped(out.fill.stroke->along, change.toNew), out.fill.stroke->style};
    for (double path::StrokeStyle::*length : {&path::StrokeStyle::widthPx, &path::StrokeStyle::dashPx, &path::StrokeStyle::gapPx})
      stroke.style.*length *= k;
    if (path::fits(stroke.style)) {
      mask.path = std::make_shared<const path::Path>(path::strokeOutline(stroke.along, stroke.style));
      out.fill.stroke = std::make_shared<const scene::Stroke>(std::move(stroke));
    }
  }
  if (mask.coverage.isNull()) return scene::Edit(std::move(out));
  const auto memory = mask.coverage.memory();
  TiledImage byHand = mask.byHand();
  if (!byHand.isNull()) {
    HSEAM_TRY(byHand, coverageAs(byHand, change.toNew, change.size, false, executor));
  }
  mask.pathArea = {};
  HSEAM_TRY(mask, scene::boundedMask(mask, byHand, mask.pathActs, change.size, memory));
  return scene::Edit(std::move(out));
}

}  // namespace

CanvasChange cropped(const base::Rect& area) {
  return {{1, 0, 0, 1, double(-area.x), double(-area.y)},
          {area.width, area.height},
          "crop to " + std::to_string(area.width) + " × " + std::to_string(area.height)};
}

CanvasChange resized(Size now, Size size) {
  // One scale for both sides: the longer one decides, the other is at most half a pixel off.
  const double k = now.width >= now.height ? double(size.width) / now.width : double(size.height) / now.height;
  return {Affine::scaling(k), size, "resize to " + std::to_string(size.width) + " × " + std::to_string(size.height)};
}

CanvasChange straightened(Size now, double degrees) {
  const double t = degrees * M_PI / 180, c = std::cos(t), s = std::sin(t), w = now.width, h = now.height;
  // The upright rectangle k·w × k·h within the turned canvas: its corners must stay inside both pairs of sides.
  const double k = std::min(w / (w * std::abs(c) + h * std::abs(s)), h / (w * std::abs(s) + h * std::abs(c)));
  const Size size{std::max(1, int(std::floor(w * k + 1e-9))), std::max(1, int(std::floor(h * k + 1e-9)))};
  const Affine turn{c, -s, s, c, 0, 0};
  const base::Point middle = turn.map({w / 2, h / 2});
  return {{c, -s, s, c, size.width / 2.0 - middle.x, size.height / 2.0 - middle.y},
          size,
          "straighten by " + std::to_string(degrees).substr(0, 5) + "°"};
}

Result<TiledImage> coverageAs(const TiledImage& coverage, const Affine& toOutput, Size size, bool labels,
                              base::Executor& executor) {
  const auto back = toOutput.inverse();
  if (!back) return base::Error{base::Code::invalid, "", "the map flattens the mask"};
  const Size from = coverage.size();
  const bool whole = labels || (*back == Affine{1, 0, 0, 1, std::round(back->e), std::round(back->f)});
  const std::size_t width = std::size_t(size.width);
  return image::tiledFromRows(size, image::PixelFormat::grey8, coverage.memory(), executor, {},
                              [&](int first, int count, std::byte* rows) -> base::Status {
                                const base::Rect band{0, first, size.width, count};
                                // Where the output lies outside the old picture, the nearest edge pixel goes on.
                                const base::Rect needed = base::boundsOf(*back, band).grown(1);
                                HSEAM_TRY(const image::Raster<float> near, image::readFloat(coverage, 0, needed));
                                std::vector<float> sampled(width * std::size_t(count));
                                if (!whole) HSEAM_DO(sampleCoverage(coverage, toOutput, band, sampled.data()));
                                for (int y = 0; y < count; ++y) {
                                  for (int x = 0; x < size.width; ++x) {
                                    const base::Point p = back->map({x + 0.5, first + y + 0.5});
                                    const bool inside = p.x >= 1 && p.y >= 1 && p.x <= from.width - 1 && p.y <= from.height - 1;
                                    const std::size_t at = std::size_t(y) * width + std::size_t(x);
                                    const int nx = std::clamp(int(std::floor(p.x)) - needed.x, 0, needed.width - 1),
                                              ny = std::clamp(int(std::floor(p.y)) - needed.y, 0, needed.height - 1);
                                    const float v = whole || !inside ? *near.at(nx, ny) : sampled[at];
                                    rows[at] = std::byte(int(std::lround(std::clamp(v, 0.f, 1.f) * 255)));
                                  }
                                }
                                return {};
                              });
}

Result<scene::Edit> changedCanvas(const scene::Scene& s, const CanvasChange& change, base::Executor& executor) {
  if (change.size.empty()) return base::Error{base::Code::invalid, "canvas", "a canvas needs at least one pixel"};
  scene::Several edit{change.label, {}};
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    if (const auto* p = l->picture()) {
      edit.edits.push_back({scene::SetPlacement{l->id, followed(p->placement, p->source.size(), change.toNew)}});
      if (scene::MaskNumbers n = l->mask.numbers; n.heldAt) {
        n.heldAt = followed(*n.heldAt, p->source.size(), change.toNew);
        edit.edits.push_back({scene::SetMaskNumbers{l->id, std::move(n), "with the canvas"}});
      }
      if (!p->reference.isNull()) {
        HSEAM_TRY(TiledImage reference, coverageAs(p->reference, change.toNew, change.size, true, executor));
        edit.edits.push_back({scene::SetReference{l->id, std::move(reference)}});
      }
    } else if (l->fill()) {
      HSEAM_TRY(scene::Edit fill, followed(*l, change, executor));
      edit.edits.push_back({std::move(fill)});
      continue;
    } else if (!l->mask.coverage.isNull()) {
      HSEAM_TRY(TiledImage mask, coverageAs(l->mask.coverage, change.toNew, change.size, false, executor));
      edit.edits.push_back({scene::SetMask{l->id, std::move(mask), "with the canvas"}});
    }
    if (!l->picture() && !l->mask.numbers.neutral())
      edit.edits.push_back({scene::SetMaskNumbers{l->id, followed(l->mask.numbers, change.toNew), "with the canvas"}});
    if (const auto* light = l->light()) edit.edits.push_back({scene::SetLight{l->id, followed(*light, s.canvas, change.toNew)}});
    const auto* n = l->adjustment() ? std::get_if<scene::ParametricAdjustment>(&l->adjustment()->adjustment) : nullptr;
    if (n) edit.edits.push_back({scene::SetAdjustment{l->id, followed(*n, scaleOf(change.toNew))}});
  }
  if (s.floor) edit.edits.push_back({scene::SetFloor{followed(*s.floor, s.canvas, change)}});
  if (!s.guides.empty()) edit.edits.push_back({scene::SetGuides{followed(s.guides, change.toNew)}});
  edit.edits.push_back({scene::SetCanvas{change.size}});
  return scene::Edit(std::move(edit));
}

Result<TiledImage> maskCarried(const scene::Scene& s, const scene::Layer& from, const scene::Layer& to,
                               base::Executor& executor) {
  if (from.mask.coverage.isNull()) return TiledImage();
  const auto toScene = [](const scene::Layer& l) {
    const auto* p = l.picture();
    return p ? p->placement.toScene(p->source.size()) : Affine{};
  };
  const auto back = toScene(to).inverse();
  if (!back) return base::Error{base::Code::invalid, to.name, "its placement flattens it"};
  const Affine map = back->after(toScene(from));
  const Size size = scene::maskSizeOf(s, to);
  const Affine none;
  const auto near = [](double a, double b) { return std::abs(a - b) < 1e-9; };
  const bool same = near(map.a, none.a) && near(map.b, none.b) && near(map.c, none.c) && near(map.d, none.d) && near(map.e, 0) &&
                    near(map.f, 0);
  if (same && size == from.mask.coverage.size()) return from.mask.coverage;
  return coverageAs(from.mask.coverage, map, size, false, executor);
}

Result<scene::Edit> replacedPicture(const scene::Scene& s, scene::LayerId id, const scene::PictureContent& fresh,
                                    base::Executor& executor) {
  const scene::Layer* l = scene::findLayer(s, id);
  if (!l || !l->picture())
    return base::Error{base::Code::invalid, l ? l->name : "", "only a picture layer has a picture to replace"};
  const scene::PictureContent& old = *l->picture();
  const Size before = old.source.size(), after = fresh.source.size();
  scene::PictureContent next = old;
  next.source = fresh.source;
  next.sourceName = fresh.sourceName;
  next.sourceHash = fresh.sourceHash;
  next.about = fresh.about;
  next.cutout.clean = {};
  scene::Mask mask = l->mask;
  if (before != after) {
    const Affine grow{double(after.width) / before.width, 0, 0, double(after.height) / before.height, 0, 0};
    const auto resized = [&](TiledImage& i, bool labels) -> base::Status {
      if (i.isNull()) return {};
      HSEAM_TRY(i, coverageAs(i, grow, after, labels, executor));
      return {};
    };
    HSEAM_DO(resized(next.cutout.selection, false));
    // Marks of the edge plan lie in the old picture's px: its outcome stays, as if it had been solved.
    next.cutout.alpha = old.cutout.outcome();
    next.cutout.shaped = {};
    next.cutout.edgePlan = {};
    HSEAM_DO(resized(next.cutout.alpha, false));
    for (scene::NamedSelection& kept : next.cutout.saved) HSEAM_DO(resized(kept.coverage, false));
    HSEAM_DO(resized(next.cutout.hints, true));
    HSEAM_DO(resized(next.cutout.band, true));
    HSEAM_DO(resized(mask.coverage, false));
    HSEAM_DO(resized(mask.painted, false));
    if (mask.path) {
      mask.path = std::make_shared<const path::Path>(path::mapped(*mask.path, grow));
      mask.pathArea = {};
    }
    mask.numbers = followed(mask.numbers, grow);
    if (next.horizonY) next.horizonY = *next.horizonY * grow.d;
    if (next.warp) next.warp = std::make_shared<const scene::Warp>(scene::scaled(*next.warp, grow));
    const auto fitted = [&](scene::Placement& at) {
      const double cx = at.x + at.scale * before.width / 2, cy = at.y + at.scale * before.height / 2;
      at.scale *= double(before.width) / after.width;
      at.x = cx - at.scale * after.width / 2;
      at.y = cy - at.scale * after.height / 2;
    };
    fitted(next.placement);
    if (mask.numbers.heldAt) fitted(*mask.numbers.heldAt);
  }
  return scene::Edit(scene::ReplaceSource{id, std::move(next), std::move(mask)});
}

std::vector<scene::AnyEdit> lightsAfterReplacing(const scene::Scene& s, scene::LayerId id, Size after) {
  std::vector<scene::AnyEdit> edits;
  const scene::Layer* caster = scene::findLayer(s, id);
  if (!caster || !caster->picture()) return edits;
  const Size before = caster->picture()->source.size();
  if (before == after) return edits;
  const Affine grow{double(after.width) / before.width, 0, 0, double(after.height) / before.height, 0, 0};
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    if (!l->light() || l->light()->caster != id) continue;
    scene::LightContent light = *l->light();
    if (auto* cast = std::get_if<scene::CastShadow>(&light.kind)) cast->foot = grow.map(cast->foot);
    if (auto* contact = std::get_if<scene::ContactShadow>(&light.kind)) {
      for (base::Point& p : contact->line) p = grow.map(p);
    }
    edits.push_back({scene::SetLight{l->id, std::move(light)}});
  }
  return edits;
}

}  // namespace hseam::render
