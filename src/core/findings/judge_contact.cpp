#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/findings/stands_at.h"
#include "core/scene/floor.h"

namespace hseam::findings {

namespace {

// A horizon that nobody drew and that no lines tell lies in nearly every photograph within so much of the height about the usual
// one; one that lines tell, within so many of its standard deviations and a little.
constexpr double kUnknown = 0.2, kDeviations = 3, kLittle = 0.02;

// What it stands on, as far as that is known.
struct Ground {
  bool available = false;
  Words reason;
  bool guessed = false;  // nobody drew the floor: the horizon is where lines tell, or where it usually lies
};
Ground groundOf(const Case& c) {
  const base::Rect b = c.specimen.bounds;
  const auto* p = c.layer.picture();
  if (!p) return {false, Says::noPicture};
  if (!p->byHand && !c.layer.mask.acts() && !image::hasAlpha(p->source.format())) return {false, Says::notCutOut};
  if (!c.scene.floor && c.fine.surfaceContinues) return {false, Says::partOfTheGround};
  if (b.bottom() >= c.scene.canvas.height - b.height / 8) return {false, Says::footNotSeen};
  const bool told = !c.scene.floor && c.found.floor;
  const scene::Floor floor = told ? *c.found.floor : scene::floorOf(c.scene);
  const double height = c.scene.canvas.height,
               least = floor.horizonY +
                       (c.scene.floor ? 0 : (told ? kDeviations * c.found.spreadPx + kLittle * height : kUnknown * height));
  if (b.bottom() <= least)
    return c.scene.floor ? Ground{false, Says::aboveHorizon} : Ground{false, Says::maybeAboveHorizon, true};
  return {true, {}, !c.scene.floor};
}
// Said of a floor that nobody drew, with that reserve.
Words reserved(const Ground& ground, Words words) {
  return ground.guessed ? Words(Says::ifItStands, std::move(words)) : words;
}

// Where the subject touches: columns of the level whose lowest covered px lies within a fiftieth of its height of the lowest of
// all.
struct Feet {
  std::vector<base::Point> line;  // px of the level, from left to right
  int height = 0;                 // of the subject, px of the level
};
Feet feetOf(const Pair& p) {
  Feet f;
  std::vector<int> lowest(std::size_t(p.own.width()), -1);
  int top = p.own.height(), bottom = -1;
  for (int y = 0; y < p.own.height(); ++y) {
    for (int x = 0; x < p.own.width(); ++x) {
      if (p.own.at(x, y)[3] < 0.5f) continue;
      lowest[std::size_t(x)] = y;
      top = std::min(top, y), bottom = std::max(bottom, y);
    }
  }
  f.height = bottom - top + 1;
  for (int x = 0; x < p.own.width(); ++x) {
    if (bottom >= 0 && lowest[std::size_t(x)] >= bottom - std::max(2, f.height / 50))
      f.line.push_back({x + 0.5, lowest[std::size_t(x)] + 1.0});
  }
  return f;
}

// Mean L* of the scene in strips under the feet, from so many to so many px below them; nothing where too little is seen.
std::optional<double> lightnessUnder(const Specimen& specimen, const Feet& feet, int from, int to) {
  const Pair& p = specimen.tones;
  const image::Raster<float> l = measure::lightnessOf(specimen.withShadows.pixels() > 0 ? specimen.withShadows : p.scene);
  double sum = 0;
  int n = 0;
  for (const base::Point& at : feet.line) {
    for (int d = from; d < to; ++d) {
      const int x = int(at.x), y = int(at.y) + d;
      if (y >= l.height() || p.own.at(x, y)[3] > 0.02f || p.scene.at(x, y)[3] < 0.98f) continue;
      sum += double(*l.at(x, y));
      ++n;
    }
  }
  return n >= 8 ? std::optional(sum / n) : std::nullopt;
}

// The feet as they touch: stretches of neighbouring columns, the longest first, thinned to a few points each; scene px.
std::vector<std::vector<base::Point>> stretchesOf(const Feet& feet, double px) {
  constexpr std::size_t kMost = 4, kPoints = 24;
  std::vector<std::vector<base::Point>> all;
  for (std::size_t from = 0, i = 1; i <= feet.line.size(); ++i) {
    const double gap = std::max(3.0, feet.height / 60.0);
    if (i < feet.line.size() && feet.line[i].x - feet.line[i - 1].x <= gap) continue;
    std::vector<base::Point> stretch;
    for (std::size_t k = from; k < i; k += std::max<std::size_t>(1, (i - from) / kPoints))
      stretch.push_back({feet.line[k].x * px, feet.line[k].y * px});
    stretch.push_back({feet.line[i - 1].x * px + px / 2, feet.line[i - 1].y * px});
    all.push_back(std::move(stretch));
    from = i;
  }
  std::stable_sort(all.begin(), all.end(),
                   [](const auto& a, const auto& b) { return a.back().x - a.front().x > b.back().x - b.front().x; });
  if (all.size() > kMost) all.resize(kMost);
  return all;
}

// Under the layer: dark and tight along each stretch that touches, and wide and faint under all of it, where it keeps the sky's
// light from the floor.
Remedy contactUnder(const Case& c, const Feet& feet) {
  constexpr double kTight = 0.03, kWide = 0.1, kFaint = 0.4;  // heights of the subject; density
  const scene::LayerId id = c.layer.id;
  const double px = 1 << c.specimen.tones.level, height = feet.height * px;
  std::vector<scene::ContactShadow> shadows;
  scene::ContactShadow wide;
  wide.line = {{feet.line.front().x * px, feet.line.front().y * px}, {feet.line.back().x * px, feet.line.back().y * px}};
  wide.widthPx = std::clamp(kWide * height, 4.0, 400.0);
  wide.density = kFaint;
  shadows.push_back(std::move(wide));
  for (auto& stretch : stretchesOf(feet, px)) {
    scene::ContactShadow tight;
    tight.line = std::move(stretch);
    tight.widthPx = std::clamp(kTight * height, 2.0, 200.0);
    shadows.push_back(std::move(tight));
  }
  return {RemedyId::contactShadow, Says::darkenFloor,
          [id, shadows](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
            const scene::Layer* l = scene::findLayer(s, id);
            const auto at = scene::positionOf(s, id);
            if (!l || !at || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
            const auto back = l->picture()->placement.toScene(l->picture()->source.size()).inverse();
            if (!back) return base::Error{base::Code::invalid, l->name, "its placement flattens it"};
            scene::Layer group;
            group.id = scene::freeId(s);
            group.name = "contact of " + l->name;
            scene::GroupContent all;
            all.isolated = false;
            for (scene::ContactShadow shadow : shadows) {
              for (base::Point& p : shadow.line) p = back->map(p);
              scene::Layer light;
              light.id = {group.id.value + 1 + all.layers.size()};
              light.name = all.layers.empty() ? "shade" : "touches";
              light.mode = scene::BlendMode::multiply;
              light.content = scene::LightContent{id, std::move(shadow)};
              all.layers.push_back(std::make_shared<const scene::Layer>(std::move(light)));
            }
            group.content = std::move(all);
            return scene::Edit(scene::AddLayer{std::move(group), at->parent, at->index});
          }};
}

// The shadow that things of the scene cast on the floor, to be cast alike.
struct OtherShadow {
  std::string caster;  // a layer's name; empty: things in the picture of the place
  scene::CastShadow shadow;
  scene::BlendMode mode = scene::BlendMode::multiply;
  double opacity = 1;
};
// That of the place, else of another picture; nothing: none is known.
std::optional<OtherShadow> shadowOfAnother(const scene::Scene& s, scene::LayerId than, bool& ownFound) {
  std::optional<OtherShadow> other;
  for (const scene::LayerRef& l : scene::allLayers(s)) {
    const auto* light = l->light();
    const auto* cast = light && !l->hidden && l->opacity > 0 ? std::get_if<scene::CastShadow>(&light->kind) : nullptr;
    if (!cast) continue;
    const scene::Layer* caster = scene::findLayer(s, light->caster);
    if (light->caster == than) {
      ownFound = true;
    } else if (caster && !other) {
      other = {caster->name, *cast, l->mode, l->opacity};
    }
  }
  if (scene::lightOf(s)) other = {{}, scene::castShadowOf(s)};
  return other;
}

Remedy castAlike(scene::LayerId id, const OtherShadow& other) {
  return {RemedyId::castAlike, other.caster.empty() ? Words(Says::castByPlace) : Words(Says::castAlike, other.caster),
          [id, other](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
            const scene::Layer* l = scene::findLayer(s, id);
            const auto at = scene::positionOf(s, id);
            if (!l || !at) return base::Error{base::Code::notFound, "", "the layer is gone"};
            HSEAM_TRY(const auto stands, standsAt(s, id));
            if (!stands) return base::Error{base::Code::invalid, l->name, "it shows nothing"};
            scene::CastShadow shadow = other.shadow;
            shadow.foot = shadowFoot(s, *l, *stands);
            scene::Layer light;
            light.id = scene::freeId(s);
            light.name = "shadow of " + l->name;
            light.mode = other.mode;
            light.opacity = other.opacity;
            light.content = scene::LightContent{id, shadow};
            return scene::Edit(scene::AddLayer{std::move(light), at->parent, at->index});
          }};
}

}  // namespace

// Does the floor darken where it touches?
void judgeContact(const Case& c) {
  Verdict v = c.begin(KindId::contactShadow);
  const Feet feet = feetOf(c.specimen.tones);
  const int h = feet.height;
  const Ground ground = groundOf(c);
  if (ground.guessed) v.asks = Asks::floor;
  if (!ground.available) {
    v.reason = ground.reason;
  } else if (h < 40 || feet.line.size() < 4) {
    v.reason = Says::footTooSmall;
  } else {
    const auto close = lightnessUnder(c.specimen, feet, 1, std::max(3, 3 * h / 100)),
               off = lightnessUnder(c.specimen, feet, 14 * h / 100, 24 * h / 100);
    if (!close || !off || *off < 12) {
      v.reason = off && *off < 12 ? Says::floorTooDark : Says::littleFloor;
    } else {
      v.available = true;
      v.target = v.tolerance;
      v.reading = *off - *close;
      // Of a floor that is guessed it is said where the floor is plainly no darker.
      constexpr double kPlainly = 0.5;
      v.excess = v.tolerance * (ground.guessed ? kPlainly : 1) / std::max(0.5, v.reading);
      v.region = base::Rect{int(feet.line.front().x), int(feet.line.front().y) - h / 20,
                            int(feet.line.back().x - feet.line.front().x) + 1, h / 8}
                     .finer(c.specimen.tones.level)
                     .intersected(base::Rect::of(c.scene.canvas));
      if (v.out()) {
        v.sentence = reserved(ground, v.reading > 0 ? Words(Says::floorLittleDarker, c.layer.name, v.reading)
                                                    : Words(Says::floorNoDarker, c.layer.name));
        v.remedies.push_back(contactUnder(c, feet));
      }
    }
  }
  c.add(std::move(v));
}

// Does it cast a shadow where others do?
void judgeCastShadow(const Case& c) {
  Verdict v = c.begin(KindId::castShadow);
  v.target = 1;
  bool casts = false;
  const auto other = shadowOfAnother(c.scene, c.layer.id, casts);
  const Ground ground = groundOf(c);
  if (c.scene.light && !c.scene.light->casts && !casts) {
    v.reason = Says::noShadowsThere;
  } else if (!other && !casts) {
    v.reason = Says::noOtherShadow;
    if (ground.available) v.asks = Asks::light;
  } else if (!ground.available) {
    v.reason = ground.reason;
  } else {
    v.available = true;
    v.reading = casts ? 1 : 0;
    v.excess = casts ? 0 : 1 / v.tolerance;
    if (v.out()) {
      v.sentence = reserved(ground, other->caster.empty() ? Words(Says::placeCasts, c.layer.name)
                                                          : Words(Says::castsNoShadow, other->caster, c.layer.name));
      v.remedies.push_back(castAlike(c.layer.id, *other));
    }
  }
  c.add(std::move(v));
}

}  // namespace hseam::findings
