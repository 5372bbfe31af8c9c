#include "core/render/canvas_change.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "core/path/edit.h"
#include "core/render/sample.h"
#include "core/scene/content/kind.h"

namespace hseam::render {
namespace {

using base::Affine;
using base::Result;
using base::Size;
using image::TiledImage;

std::vector<scene::Guide> followed(const std::vector<scene::Guide>& guides, const Affine& m) {
  if (m.b != 0 || m.c != 0) return {};
  std::vector<scene::Guide> out = guides;
  for (scene::Guide& g : out) {
    g.at = g.vertical ? m.a * g.at + m.e : m.d * g.at + m.f;
    if (g.meets) g.meets = m.map(*g.meets);
  }
  return out;
}

scene::Floor followed(scene::Floor f, Size before, const CanvasChange& change) {
  const double tilt = (f.tiltDeg + change.toNew.turnDeg()) * M_PI / 180;
  const base::Point at = change.toNew.map({before.width / 2.0, f.horizonY});
  const double focal = before.width / 2.0 / std::tan(f.viewAngleDeg * M_PI / 360) * change.toNew.scale();
  f.horizonY = at.y + std::tan(tilt) * (change.size.width / 2.0 - at.x);
  f.tiltDeg = std::clamp(tilt * 180 / M_PI, -45.0, 45.0);
  f.viewAngleDeg = std::clamp(360 / M_PI * std::atan(change.size.width / 2.0 / focal), 5.0, 150.0);
  return f;
}

scene::PlaceLight followed(scene::PlaceLight light, const Affine& m) {
  if (light.seen) light.seen = {m.map(light.seen->foot), m.map(light.seen->top), m.map(light.seen->tip)};
  return light;
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
  const scene::CanvasMap map{change.toNew, s.canvas, change.size, [&](const TiledImage& i, bool labels) {
                               return coverageAs(i, change.toNew, change.size, labels, executor);
                             }};
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    HSEAM_TRY(std::vector<scene::AnyEdit> own, scene::kindOf(*l).withCanvas(*l, map));
    std::move(own.begin(), own.end(), std::back_inserter(edit.edits));
  }
  if (s.floor) edit.edits.push_back({scene::SetFloor{followed(*s.floor, s.canvas, change)}});
  if (s.light && s.light->seen) edit.edits.push_back({scene::SetPlaceLight{followed(*s.light, change.toNew)}});
  if (!s.guides.empty()) edit.edits.push_back({scene::SetGuides{followed(s.guides, change.toNew)}});
  edit.edits.push_back({scene::SetCanvas{change.size}});
  return scene::Edit(std::move(edit));
}

Result<TiledImage> maskCarried(const scene::Scene& s, const scene::Layer& from, const scene::Layer& to,
                               base::Executor& executor) {
  if (from.mask.coverage.isNull()) return TiledImage();
  const auto back = scene::ownToScene(to).inverse();
  if (!back) return base::Error{base::Code::invalid, to.name, "its placement flattens it"};
  const Affine map = back->after(scene::ownToScene(from));
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
  next.frames = nullptr;
  next.sourceName = fresh.sourceName;
  next.sourceHash = fresh.sourceHash;
  next.about = fresh.about;
  scene::Cutout& cut = next.cutout.edit();
  cut.clean = {};
  scene::Mask mask = l->mask;
  if (before != after) {
    const Affine grow{double(after.width) / before.width, 0, 0, double(after.height) / before.height, 0, 0};
    const auto resized = [&](TiledImage& i, bool labels) -> base::Status {
      if (i.isNull()) return {};
      HSEAM_TRY(i, coverageAs(i, grow, after, labels, executor));
      return {};
    };
    HSEAM_DO(resized(cut.selection, false));
    // Marks of the edge plan lie in the old picture's px: its outcome stays, as if it had been solved.
    cut.alpha = old.cutout->outcome();
    cut.shaped = {};
    cut.edgePlan = {};
    HSEAM_DO(resized(cut.alpha, false));
    for (scene::NamedSelection& kept : cut.saved) HSEAM_DO(resized(kept.coverage, false));
    HSEAM_DO(resized(cut.hints, true));
    HSEAM_DO(resized(cut.band, true));
    HSEAM_DO(resized(mask.coverage, false));
    HSEAM_DO(resized(mask.painted, false));
    if (mask.path) {
      mask.path = std::make_shared<const path::Path>(path::mapped(*mask.path, grow));
      mask.pathArea = {};
    }
    mask.numbers = scene::mapped(mask.numbers, grow);
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
