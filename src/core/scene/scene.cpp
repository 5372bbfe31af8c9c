#include "core/scene/scene.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "core/scene/content/kind.h"
#include "core/scene/look_around.h"

namespace hseam::scene {
namespace {

constexpr std::array<const char*, kBlendModeCount> kModeNames = {
    "normal",     "multiply",   "screen",     "overlay",    "darken",    "lighten", "color-dodge",
    "color-burn", "hard-light", "soft-light", "difference", "exclusion", "hue",     "saturation",
    "color",      "luminosity", "add",        "subtract",   "divide"};

const Layer* findIn(const std::vector<LayerRef>& layers, LayerId id) {
  for (const LayerRef& l : layers) {
    if (l->id == id) return l.get();
    if (const auto* g = l->group()) {
      if (const Layer* found = findIn(g->layers, id)) return found;
    }
  }
  return nullptr;
}

std::optional<Position> positionIn(const std::vector<LayerRef>& layers, LayerId parent, LayerId id) {
  for (std::size_t i = 0; i < layers.size(); ++i) {
    if (layers[i]->id == id) return Position{parent, int(i)};
    if (const auto* g = layers[i]->group()) {
      if (auto p = positionIn(g->layers, layers[i]->id, id)) return p;
    }
  }
  return std::nullopt;
}

void collect(const std::vector<LayerRef>& layers, std::vector<LayerRef>& out) {
  for (const LayerRef& l : layers) {
    out.push_back(l);
    if (const auto* g = l->group()) collect(g->layers, out);
  }
}

base::Error wrong(const Layer& layer, const char* what) {
  return {base::Code::invalid, layer.name, what};
}

base::Status validLayer(const Scene& scene, const Layer& l) {
  if (!(l.opacity >= 0 && l.opacity <= 1)) return wrong(l, "opacity must lie within 0 to 1");
  if (const auto ok = kindOf(l).valid(scene, l); !ok.ok()) return base::Error{ok.error().code, l.name, ok.error().detail};
  for (const auto& ok : {validMaskNumbers(l.mask.numbers), validShows(l.shows)}) {
    if (!ok.ok()) return base::Error{ok.error().code, l.name, ok.error().detail};
  }
  if (!l.mask.coverage.isNull()) {
    if (image::channelsOf(l.mask.coverage.format()) != 1) return wrong(l, "a mask must be grey");
    if (l.mask.coverage.size() != maskSizeOf(scene, l)) return wrong(l, "the mask does not have the right size");
  }
  if (!l.mask.painted.isNull() &&
      (l.mask.painted.size() != maskSizeOf(scene, l) || l.mask.painted.format() != image::PixelFormat::grey8))
    return wrong(l, "the painted part of the mask does not fit the layer");
  return {};
}

// The parts of the scene that a change of a mask's pixels reaches.
void maskChange(const Scene& scene, const Layer& a, const Layer& b, std::vector<base::Rect>& out) {
  const auto* p = b.picture();
  if ((p && p->warp) || !b.mask.numbers.neutral()) {
    out.push_back(boundsOf(scene, b));
    return;
  }
  const auto grid = kindOf(b).grid(b);
  for (const base::Rect& changed : image::differencesOf(a.mask.coverage, b.mask.coverage)) {
    out.push_back(grid ? base::boundsOf(grid->toScene, changed.grown(2)).grown(2)
                       : changed.intersected(boundsOf(scene, a).united(boundsOf(scene, b))));
  }
}

// The same in all that shows, but maybe for the pixels of their masks and the children of a group. Names do not show.
bool sameButMaskPixels(const Layer& a, const Layer& b) {
  if (a.content.index() != b.content.index()) return false;
  if (a.mask.coverage.isNull() != b.mask.coverage.isNull() || a.mask.enabled != b.mask.enabled) return false;
  if (a.hidden != b.hidden || a.opacity != b.opacity || a.mode != b.mode || a.clip != b.clip || a.shows != b.shows) return false;
  return a.mask.numbers == b.mask.numbers && kindOf(a).looksSame(a, b);
}

void differenceIn(const Scene& sa, const std::vector<LayerRef>& a, const Scene& sb, const std::vector<LayerRef>& b,
                  std::vector<base::Rect>& out) {
  const bool sameOrder =
      std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const LayerRef& x, const LayerRef& y) { return x->id == y->id; });
  if (!sameOrder) {
    // What stands at the same place from the back in both, unchanged, shows the same; the rest may not.
    std::size_t back = 0;
    while (back < a.size() && back < b.size() && a[back] == b[back]) ++back;
    std::size_t front = 0;
    while (front < a.size() - back && front < b.size() - back && a[a.size() - 1 - front] == b[b.size() - 1 - front]) ++front;
    for (std::size_t i = back; i < a.size() - front; ++i) out.push_back(boundsOf(sa, *a[i]));
    for (std::size_t i = back; i < b.size() - front; ++i) out.push_back(boundsOf(sb, *b[i]));
    // A layer that is confined to the one below changes with its base.
    for (std::size_t i = b.size() - front; i < b.size() && b[i]->clip; ++i) out.push_back(boundsOf(sb, *b[i]));
    return;
  }
  for (std::size_t i = 0; i < a.size(); ++i) {
    const Layer &la = *a[i], &lb = *b[i];
    if (a[i] == b[i]) continue;
    if (sameButMaskPixels(la, lb)) {
      if (la.group()) differenceIn(sa, la.group()->layers, sb, lb.group()->layers, out);
      maskChange(sb, la, lb, out);
    } else {
      out.push_back(boundsOf(sa, la));
      out.push_back(boundsOf(sb, lb));
    }
    // The clip run above a base shows through the base's alpha.
    if (la.clip != lb.clip || la.hidden != lb.hidden) {
      for (std::size_t k = i + 1; k < b.size() && b[k]->clip; ++k) out.push_back(boundsOf(sb, *b[k]));
      for (std::size_t k = i; k-- > 0;) {
        out.push_back(boundsOf(sb, *b[k]));
        if (!b[k]->clip) break;
      }
    }
  }
}

}  // namespace

const char* blendModeName(BlendMode mode) {
  return kModeNames[std::size_t(mode)];
}

std::optional<BlendMode> blendModeNamed(const std::string& name) {
  for (std::size_t i = 0; i < kModeNames.size(); ++i) {
    if (name == kModeNames[i]) return BlendMode(i);
  }
  return std::nullopt;
}

const Layer* findLayer(const Scene& scene, LayerId id) {
  return findIn(scene.layers, id);
}
std::optional<Position> positionOf(const Scene& scene, LayerId id) {
  return positionIn(scene.layers, {}, id);
}

std::vector<LayerRef> allLayers(const Scene& scene) {
  std::vector<LayerRef> out;
  collect(scene.layers, out);
  return out;
}

LayerId freeId(const Scene& scene) {
  return {highestIdOf(scene).value + 1};
}

LayerId highestIdOf(const Scene& scene) {
  LayerId highest = scene.highestId;
  for (const LayerRef& l : allLayers(scene)) highest.value = std::max(highest.value, l->id.value);
  return highest;
}

base::Size maskSizeOf(const Scene& scene, const Layer& layer) {
  const auto grid = kindOf(layer).grid(layer);
  return grid ? grid->size : scene.canvas;
}

base::Affine maskToScene(const Layer& layer) {
  const auto grid = kindOf(layer).grid(layer);
  if (!grid) return {};
  return layer.mask.numbers.heldAt ? layer.mask.numbers.heldAt->toScene(grid->size) : grid->toScene;
}

bool casts(const Layer& layer) {
  return kindOf(layer).casts;
}

base::Affine ownToScene(const Layer& layer) {
  const auto grid = kindOf(layer).grid(layer);
  return grid ? grid->toScene : base::Affine{};
}

base::Point headAbove(const Scene& scene, const Layer& caster, base::Point foot) {
  if (kindOf(caster).grid(caster)) return ownToScene(caster).map({foot.x, 0});
  return {foot.x, double(boundsOf(scene, caster).y)};
}

base::Rect boundsOf(const Scene& scene, const Layer& layer) {
  return kindOf(layer).bounds(scene, layer).intersected(base::Rect::of(scene.canvas));
}

base::Status validate(const Scene& scene) {
  if (scene.canvas.empty() || scene.canvas.width > image::kMaxSide || scene.canvas.height > image::kMaxSide ||
      std::int64_t(scene.canvas.width) * scene.canvas.height > image::kMaxPixels) {
    return base::Error{base::Code::limitExceeded, "canvas",
                       "the canvas must have 1 to 32768 px a side and at most 300 megapixels"};
  }
  if (const auto& f = scene.floor; f && !(std::abs(f->horizonY) < 1e6 && std::abs(f->tiltDeg) <= 45 && f->cameraHeightM > 0 &&
                                          f->cameraHeightM <= 10000 && f->viewAngleDeg >= 5 && f->viewAngleDeg <= 150))
    return base::Error{base::Code::invalid, "floor", "the horizon or the camera is out of range"};
  if (scene.light) HSEAM_DO(validPlaceLight(*scene.light));
  if (scene.judging) HSEAM_DO(validJudging(*scene.judging));
  std::set<LayerId> seen;
  for (const LayerRef& l : allLayers(scene)) {
    if (l->id.value == 0 || !seen.insert(l->id).second) return wrong(*l, "two layers have one id");
    HSEAM_DO(validLayer(scene, *l));
  }
  return {};
}

namespace {

// What follows a layer's shape, or the floor, changes with it.
void followers(const Scene& a, const Scene& b, std::vector<base::Rect>& out) {
  const bool floorMoved = floorOf(a) != floorOf(b);
  for (const LayerRef& l : allLayers(b)) {
    const LayerId followed = kindOf(*l).follows(*l);
    bool follows = followed.value != 0 && (findLayer(a, followed) != findLayer(b, followed) || floorMoved);
    for (const MaskPart& part : l->mask.numbers.parts) {
      const auto* other = std::get_if<LayerPart>(&part.kind);
      follows |= other && findLayer(a, other->layer) != findLayer(b, other->layer);
    }
    if (follows) {
      out.push_back(boundsOf(a, *l));
      out.push_back(boundsOf(b, *l));
    }
  }
}

}  // namespace

Floor floorOf(const Scene& scene) {
  return scene.floor.value_or(usualFloor(scene.canvas));
}

std::optional<LightFrom> lightOf(const Scene& s) {
  if (!s.light || !s.light->casts) return std::nullopt;
  if (!s.light->seen) return s.light->from;
  auto from = lightFromShadow(*s.light->seen, FloorCamera(floorOf(s), s.canvas));
  if (from) from->sizeDeg = s.light->from.sizeDeg;
  return from;
}

CastShadow castShadowOf(const Scene& s) {
  CastShadow shadow;
  const auto from = lightOf(s);
  if (!from) return shadow;
  shadow.light = *from;
  shadow.density = s.light->density;
  shadow.colour = s.light->colour;
  return shadow;
}

std::vector<base::Rect> difference(const Scene& a, const Scene& b) {
  if (a.canvas != b.canvas || a.mixing != b.mixing) return {base::Rect::of(a.canvas).united(base::Rect::of(b.canvas))};
  std::vector<base::Rect> out;
  differenceIn(a, a.layers, b, b.layers, out);
  followers(a, b, out);
  const base::Rect canvas = base::Rect::of(b.canvas);
  const int around = int(std::max(lookAroundPx(a.layers), lookAroundPx(b.layers)));
  for (base::Rect& r : out) r = r.grown(r.empty() ? 0 : around).intersected(canvas);
  std::erase_if(out, [](const base::Rect& r) { return r.empty(); });
  return out;
}

}  // namespace hseam::scene
