#include "core/findings/specimen.h"

#include <algorithm>
#include <cmath>

#include "core/render/renderer.h"
#include "core/scene/edit.h"
#include "core/scene/look.h"

namespace hseam::findings {
namespace {

using base::Rect;
using image::Raster;
using scene::Layer;
using scene::LayerId;
using scene::LayerRef;
using scene::Scene;

constexpr double kTonesPx = 1.0e6;  // of the canvas at the level for tones
constexpr double kFinePx = 2.6e6;   // up to here all of the neighbourhood is looked at in full size
constexpr int kSquare = 256, kGap = 24;
constexpr double kLeastShare = 0.0004, kMostShare = 0.92;
constexpr float kWhole = 0.98f;

// Which layers show: decided one by one, back to front.
template <class Shows>
std::vector<LayerRef> kept(const std::vector<LayerRef>& layers, const Shows& shows) {
  std::vector<LayerRef> out;
  bool baseShows = true;
  for (const LayerRef& l : layers) {
    const bool confined = l->clip && !out.empty();
    const bool own = shows(*l);
    if (!confined) baseShows = own || l->adjustment();
    // What is confined to a layer comes and goes with it.
    if (!baseShows) {
      Layer copy = *l;
      copy.hidden = true;
      out.push_back(std::make_shared<const Layer>(std::move(copy)));
      continue;
    }
    if (const auto* g = l->group()) {
      Layer copy = *l;
      std::get<scene::GroupContent>(copy.content).layers = kept(g->layers, shows);
      out.push_back(std::make_shared<const Layer>(std::move(copy)));
    } else {
      out.push_back(l);
    }
  }
  return out;
}

bool holds(const Layer& l, LayerId id) {
  if (l.id == id) return true;
  const auto* g = l.group();
  return g && std::any_of(g->layers.begin(), g->layers.end(), [id](const LayerRef& each) { return holds(*each, id); });
}

// The layer's strength and its way of mixing are not what is judged.
std::vector<LayerRef> plainPart(std::vector<LayerRef> layers, LayerId id) {
  for (LayerRef& l : layers) {
    if (!holds(*l, id)) continue;
    Layer copy = *l;
    copy.opacity = 1;
    copy.mode = scene::BlendMode::normal;
    if (auto* g = std::get_if<scene::GroupContent>(&copy.content)) g->layers = plainPart(std::move(g->layers), id);
    l = std::make_shared<const Layer>(std::move(copy));
  }
  return layers;
}

// Not hidden: its shadows are part of what shows, and need it there.
std::vector<LayerRef> unseen(std::vector<LayerRef> layers, LayerId id) {
  for (LayerRef& l : layers) {
    if (!holds(*l, id)) continue;
    Layer copy = *l;
    if (auto* g = std::get_if<scene::GroupContent>(&copy.content); g && copy.id != id) {
      g->layers = unseen(std::move(g->layers), id);
    } else {
      copy.hidden = false;
      copy.opacity = 0;
    }
    l = std::make_shared<const Layer>(std::move(copy));
  }
  return layers;
}

constexpr std::size_t kLeastAround = 400;  // px of the scene that must be seen

void masks(Pair& p, int ringPx) {
  p.inside = measure::inside(p.own, kWhole, 2);
  Raster<std::uint8_t> covered(p.own.width(), p.own.height(), 1), unusable(p.own.width(), p.own.height(), 1);
  p.whole = Raster<std::uint8_t>(p.own.width(), p.own.height(), 1);
  for (std::size_t i = 0; i < covered.pixels(); ++i) {
    const float own = p.own.samples()[4 * i + 3], below = p.scene.samples()[4 * i + 3];
    covered.samples()[i] = own > 0.5f ? 255 : 0;
    unusable.samples()[i] = own > 0.02f || below < kWhole ? 255 : 0;
    p.whole.samples()[i] = unusable.samples()[i] ? 0 : 255;
  }
  p.ring = measure::ringAround(covered, ringPx, unusable);
}

// Without the shadows and lights that follow a layer; any: whether there were some.
std::vector<LayerRef> withoutLightsOf(std::vector<LayerRef> layers, LayerId caster, bool& any) {
  for (LayerRef& l : layers) {
    const bool follows = l->light() && l->light()->caster == caster && !l->hidden;
    if (!follows && !l->group()) continue;
    Layer copy = *l;
    if (auto* g = std::get_if<scene::GroupContent>(&copy.content)) {
      g->layers = withoutLightsOf(std::move(g->layers), caster, any);
    } else {
      copy.hidden = any = true;
    }
    l = std::make_shared<const Layer>(std::move(copy));
  }
  return layers;
}

// What was marked to be compared with, on the grid of a level; empty: nothing was.
base::Result<Raster<std::uint8_t>> markedIn(const image::TiledImage& reference, const Rect& area, int level) {
  if (reference.isNull()) return Raster<std::uint8_t>();
  HSEAM_TRY(const Raster<float> read, image::readFloat(reference, level, area));
  Raster<std::uint8_t> out(area.width, area.height, 1);
  for (std::size_t i = 0; i < out.pixels(); ++i) out.samples()[i] = read.samples()[i] > 0.5f ? 255 : 0;
  return out;
}

std::size_t counted(const Raster<std::uint8_t>& mask) {
  return std::size_t(std::count(mask.samples().begin(), mask.samples().end(), std::uint8_t(255)));
}

// Only there the scene is read.
void confine(Pair& p, const Raster<std::uint8_t>& marked) {
  for (std::size_t i = 0; i < marked.pixels(); ++i) p.whole.samples()[i] &= marked.samples()[i];
  p.ring = p.whole;
}

base::Result<Pair> pairOf(const Scene& own, const Scene& scene, const Rect& area, int level, base::Executor& executor,
                          const std::stop_token& stop) {
  Pair p;
  p.level = level;
  render::Renderer renderer;
  HSEAM_TRY(p.own, renderer.render(own, area, level, executor, stop));
  HSEAM_TRY(p.scene, renderer.render(scene, area, level, executor, stop));
  return p;
}

Rect coveredBounds(const Raster<float>& own, double& share) {
  Rect r;
  double sum = 0;
  for (int y = 0; y < own.height(); ++y) {
    int first = own.width(), last = -1;
    for (int x = 0; x < own.width(); ++x) {
      const float a = own.at(x, y)[3];
      sum += double(a);
      if (a > 0.02f) first = std::min(first, x), last = std::max(last, x);
    }
    if (last >= 0) r = r.united({first, y, last - first + 1, 1});
  }
  share = sum / (double(own.width()) * own.height());
  return r;
}

Rect boundsOf(const Raster<std::uint8_t>& mask) {
  Rect r;
  for (int y = 0; y < mask.height(); ++y) {
    for (int x = 0; x < mask.width(); ++x) {
      if (*mask.at(x, y)) r = r.united({x, y, 1, 1});
    }
  }
  return r;
}

// Squares of the canvas (level 0) that show most of the subject's edge and inside, and of its surroundings.
std::vector<Rect> squaresOf(const Pair& tones, base::Size canvas) {
  struct Rated {
    Rect r;
    double inside = 0, edge = 0, ring = 0;
  };
  std::vector<Rated> all;
  const int n = 1 << tones.level, side = std::max(1, kSquare / n);
  for (int y = 0; y < tones.own.height(); y += side) {
    for (int x = 0; x < tones.own.width(); x += side) {
      Rated s{Rect{x * n, y * n, kSquare, kSquare}.intersected(Rect::of(canvas))};
      for (int v = y; v < std::min(y + side, tones.own.height()); v += 2) {
        for (int u = x; u < std::min(x + side, tones.own.width()); u += 2) {
          const float a = tones.own.at(u, v)[3];
          s.inside += *tones.inside.at(u, v) != 0;
          s.edge += a > 0.05f && a < 0.95f;
          s.ring += *tones.whole.at(u, v) != 0;
        }
      }
      all.push_back(s);
    }
  }
  std::vector<Rect> out;
  const auto take = [&](int most, double Rated::*by) {
    std::stable_sort(all.begin(), all.end(), [by](const Rated& a, const Rated& b) { return a.*by > b.*by; });
    int taken = 0;
    // Spread over the ones that show enough: every so many.
    std::size_t good = 0;
    while (good < all.size() && all[good].*by > 0.3 * (all[0].*by) && all[good].*by > 0) ++good;
    const std::size_t step = std::max<std::size_t>(1, good / std::size_t(most));
    for (std::size_t i = 0; i < good && taken < most; i += step) {
      if (std::find(out.begin(), out.end(), all[i].r) != out.end()) continue;
      out.push_back(all[i].r);
      ++taken;
    }
  };
  take(10, &Rated::edge);
  take(8, &Rated::inside);
  take(10, &Rated::ring);
  return out;
}

}  // namespace

Scene alone(const Scene& scene, LayerId layer) {
  Scene s = scene;
  s.layers = plainPart(kept(scene.layers, [layer](const Layer& l) { return holds(l, layer); }), layer);
  return s;
}

Scene behind(const Scene& scene, LayerId layer) {
  Scene s = scene;
  bool passed = false;
  s.layers = kept(scene.layers, [&passed, layer](const Layer& l) {
    if (l.id == layer) passed = true;
    return !passed || (l.group() && holds(l, layer));
  });
  s.layers = unseen(std::move(s.layers), layer);
  return s;
}

std::vector<LayerId> confinedTo(const Scene& scene, LayerId layer) {
  std::vector<LayerId> out;
  for (const LayerRef& l : scene::adjustmentsOf(scene, layer)) {
    if (!l->hidden) out.push_back(l->id);
  }
  return out;
}

bool isLightOf(const scene::Layer& layer, LayerId caster) {
  if (const auto* g = layer.group()) {
    return !g->layers.empty() &&
           std::all_of(g->layers.begin(), g->layers.end(), [&](const scene::LayerRef& l) { return isLightOf(*l, caster); });
  }
  return layer.light() && layer.light()->caster == caster;
}

Scene withoutConfined(const Scene& scene, LayerId layer) {
  Scene s = scene;
  for (const LayerId id : confinedTo(scene, layer)) {
    if (auto next = scene::apply(s, scene::SetHidden{id, true}); next.ok()) s = std::move(next).value();
  }
  return s;
}

Rect Specimen::inScene(const Rect& r) const {
  Rect out;
  for (const Square& s : squares) {
    const Rect part = r.intersected({s.x, 0, s.scene.width, s.scene.height});
    if (!part.empty()) out = out.united({part.x - s.x + s.scene.x, part.y + s.scene.y, part.width, part.height});
  }
  return out;
}

base::Result<std::optional<Specimen>> specimenOf(const Scene& scene, LayerId layer, base::Executor& executor,
                                                 const std::stop_token& stop) {
  const Scene own = alone(scene, layer), lit = behind(scene, layer);
  // What it darkens and lights itself is nothing to compare it with.
  Scene rest = lit;
  bool follow = false;
  rest.layers = withoutLightsOf(std::move(rest.layers), layer, follow);
  Specimen s;
  int level = 0;
  while (double(scene.canvas.width) * scene.canvas.height / std::pow(4.0, level) > kTonesPx * 1.6) ++level;
  const Rect whole = Rect::of(render::canvasAt(scene, level));
  HSEAM_TRY(s.tones, pairOf(own, rest, whole, level, executor, stop));
  if (follow) {
    HSEAM_TRY(s.withShadows, render::Renderer().render(lit, whole, level, executor, stop));
  }
  const Rect covered = coveredBounds(s.tones.own, s.coveredShare);
  if (s.coveredShare < kLeastShare || s.coveredShare > kMostShare) return std::optional<Specimen>();
  const int ring = std::max(12, int(0.5 * std::sqrt(s.coveredShare * whole.width * whole.height)));
  masks(s.tones, ring);
  if (!confinedTo(own, layer).empty()) {
    HSEAM_TRY(const Raster<float> bare, render::Renderer().render(withoutConfined(own, layer), whole, level, executor, stop));
    s.clipped = clippedMore(bare, s.tones.own);
  }
  if (counted(s.tones.whole) < kLeastAround) return std::optional<Specimen>();
  s.bounds = covered.finer(level).intersected(Rect::of(scene.canvas));
  Rect near = s.bounds.grown(ring << level).intersected(Rect::of(scene.canvas));
  const auto* picture = scene::findLayer(scene, layer)->picture();
  const image::TiledImage reference = picture ? picture->reference : image::TiledImage();
  HSEAM_TRY(const Raster<std::uint8_t> marked, markedIn(reference, whole, level));
  if (marked.pixels() > 0) {
    Pair confined = s.tones;
    confine(confined, marked);
    // Hidden or hardly anything: as if nothing had been marked.
    if (counted(confined.whole) >= kLeastAround) {
      s.tones = std::move(confined);
      s.marked = true;
      near = near.united(boundsOf(s.tones.whole).finer(level).intersected(Rect::of(scene.canvas)));
    }
  }
  if (level == 0) {
    s.fine = s.tones;
    s.squares = {{0, whole}};
  } else if (double(near.width) * near.height <= kFinePx) {
    HSEAM_TRY(s.fine, pairOf(own, rest, near, 0, executor, stop));
    masks(s.fine, ring << level);
    if (s.marked) {
      HSEAM_TRY(const Raster<std::uint8_t> there, markedIn(reference, near, 0));
      confine(s.fine, there);
    }
    s.squares = {{0, near}};
  } else {
    const std::vector<Rect> squares = squaresOf(s.tones, scene.canvas);
    const int width = int(squares.size()) * (kSquare + kGap);
    s.fine.own = Raster<float>(width, kSquare, 4, 0.f);
    s.fine.scene = Raster<float>(width, kSquare, 4, 0.f);
    for (std::size_t i = 0; i < squares.size(); ++i) {
      HSEAM_TRY(const Pair p, pairOf(own, rest, squares[i], 0, executor, stop));
      const int at = int(i) * (kSquare + kGap);
      for (int y = 0; y < p.own.height(); ++y) {
        std::copy_n(p.own.at(0, y), 4 * p.own.width(), s.fine.own.at(at, y));
        std::copy_n(p.scene.at(0, y), 4 * p.own.width(), s.fine.scene.at(at, y));
      }
      s.squares.push_back({at, squares[i]});
    }
    masks(s.fine, ring << level);
    if (s.marked) {
      Raster<std::uint8_t> row(s.fine.own.width(), s.fine.own.height(), 1, std::uint8_t(0));
      for (const Specimen::Square& square : s.squares) {
        HSEAM_TRY(const Raster<std::uint8_t> there, markedIn(reference, square.scene, 0));
        for (int y = 0; y < there.height(); ++y) std::copy_n(there.at(0, y), there.width(), row.at(square.x, y));
      }
      confine(s.fine, row);
    }
  }
  return std::optional<Specimen>(std::move(s));
}

}  // namespace hseam::findings
