#include <algorithm>
#include <cmath>

#include "core/findings/judge.h"
#include "core/scene/floor.h"

namespace hseam::findings {

namespace {

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
std::optional<double> lightnessUnder(const Pair& p, const Feet& feet, int from, int to) {
  const image::Raster<float> l = measure::lightnessOf(p.scene);
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

// A contact shadow along the feet, under the layer.
Remedy contactUnder(const Case& c, const Feet& feet) {
  const scene::LayerId id = c.layer.id;
  const double px = 1 << c.specimen.tones.level, height = feet.height * px;
  std::vector<base::Point> line;
  for (std::size_t i = 0; i < feet.line.size(); i += std::max<std::size_t>(1, feet.line.size() / 24))
    line.push_back({feet.line[i].x * px, feet.line[i].y * px});
  if (!feet.line.empty()) line.push_back({feet.line.back().x * px, feet.line.back().y * px});
  return {"contact_shadow", "Darken the floor where it touches",
          [id, line, height](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
            const scene::Layer* l = scene::findLayer(s, id);
            const auto at = scene::positionOf(s, id);
            if (!l || !at || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
            const auto back = l->picture()->placement.toScene(l->picture()->source.size()).inverse();
            if (!back) return base::Error{base::Code::invalid, l->name, "its placement flattens it"};
            scene::ContactShadow shadow;
            for (const base::Point& p : line) shadow.line.push_back(back->map(p));
            shadow.widthPx = std::clamp(0.03 * height, 2.0, 200.0);
            scene::Layer light;
            light.id = scene::freeId(s);
            light.name = "contact of " + l->name;
            light.mode = scene::BlendMode::multiply;
            light.content = scene::LightContent{id, std::move(shadow)};
            return scene::Edit(scene::AddLayer{std::move(light), at->parent, at->index});
          }};
}

}  // namespace

// Does the floor darken where it touches? Only where a floor is known: else it may as well hang on a wall.
void judgeContact(const Case& c) {
  Verdict v = c.begin("contact_shadow");
  const Feet feet = feetOf(c.specimen.tones);
  const int h = feet.height;
  if (!c.scene.floor || !c.layer.picture()) {
    v.why = "it is not known what it stands on";
  } else if (h < 40 || feet.line.size() < 4 || c.specimen.bounds.bottom() >= c.scene.canvas.height - h / 8) {
    v.why = "its foot is not to be seen";
  } else if (c.specimen.bounds.bottom() <= c.scene.floor->horizonY) {
    v.why = "it stands above the horizon";
  } else {
    const auto close = lightnessUnder(c.specimen.tones, feet, 1, std::max(3, 3 * h / 100)),
               off = lightnessUnder(c.specimen.tones, feet, 14 * h / 100, 24 * h / 100);
    if (!close || !off || *off < 12) {
      v.why = off && *off < 12 ? "the floor is too dark to show it" : "too little of the floor is seen";
    } else {
      v.told = true;
      v.target = v.tolerance;
      v.reading = *off - *close;
      v.excess = v.tolerance / std::max(0.5, v.reading);
      v.region = base::Rect{int(feet.line.front().x), int(feet.line.front().y) - h / 20,
                            int(feet.line.back().x - feet.line.front().x) + 1, h / 8}
                     .finer(c.specimen.tones.level)
                     .intersected(base::Rect::of(c.scene.canvas));
      if (v.out()) {
        v.reason = "The floor under " + c.layer.name + " is " +
                   (v.reading > 0 ? "only " + figure(v.reading) + " L* darker" : std::string("no darker")) +
                   " where it touches than a little further on: it seems to float.";
        v.remedies.push_back(contactUnder(c, feet));
      }
    }
  }
  c.add(std::move(v));
}

// Where it stands: size by the horizon rule, and whether the floor darkens where it touches.
void judgeStanding(const Case& c) {
  const auto* p = c.layer.picture();
  if (!p) return;
  const std::string& name = c.layer.name;
  const base::Rect b = c.specimen.bounds;
  const bool cutOff = b.bottom() >= c.scene.canvas.height - 1;
  {
    Verdict v = c.begin("ground_size");
    if (!c.scene.floor || p->realHeightM <= 0) {
      v.why = "the horizon or its real height is not known";
    } else if (cutOff) {
      v.why = "its foot is not in the picture";
    } else {
      const base::Point foot{b.x + b.width / 2.0, double(b.bottom())};
      const auto right = scene::heightAtFoot(scene::FloorCamera(*c.scene.floor, c.scene.canvas), foot, p->realHeightM);
      if (!right) {
        v.why = "it stands above the horizon";
      } else {
        v.told = true;
        v.reading = 100 * (b.height / *right - 1);
        v.excess = std::abs(v.reading) / v.tolerance;
        if (v.out()) {
          v.reason = name + " is " + figure(std::abs(v.reading), 0) + " % too " + (v.reading > 0 ? "large" : "small") +
                     " for where it stands: " + figure(p->realHeightM, 2) + " m are " + figure(*right, 0) + " px there, it has " +
                     std::to_string(b.height) + " px.";
          const double k = *right / b.height;
          const scene::LayerId id = c.layer.id;
          v.remedies.push_back({"stand_right", "Scale it to " + figure(100 * k, 0) + " %, its foot held",
                                [id, k, foot](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
                                  const scene::Layer* l = scene::findLayer(s, id);
                                  if (!l || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
                                  scene::Placement at = l->picture()->placement;
                                  const base::Size size = l->picture()->source.size();
                                  const double cx = at.x + at.scale * size.width / 2, cy = at.y + at.scale * size.height / 2;
                                  const double nx = foot.x + k * (cx - foot.x), ny = foot.y + k * (cy - foot.y);
                                  at.scale *= k;
                                  at.x = nx - at.scale * size.width / 2;
                                  at.y = ny - at.scale * size.height / 2;
                                  return scene::Edit(scene::SetPlacement{id, at});
                                }});
        }
      }
    }
    c.add(std::move(v));
  }
  {
    // Its own horizon and the scene's: the camera's height in heights of the subject.
    Verdict v = c.begin("camera_height");
    if (!c.scene.floor || !p->horizonY) {
      v.why = "one of the two horizons is not known";
    } else if (cutOff || b.empty()) {
      v.why = "its foot is not in the picture";
    } else {
      const base::Size size = p->source.size();
      const double own = p->placement.toScene(size).map({size.width / 2.0, *p->horizonY}).y;
      const double should = c.scene.floor->horizonY +
                            std::tan(c.scene.floor->tiltDeg * M_PI / 180) * (b.x + b.width / 2.0 - c.scene.canvas.width / 2.0);
      v.told = true;
      v.reading = 100 * (should - own) / b.height;
      v.excess = std::abs(v.reading) / v.tolerance;
      if (v.out()) {
        v.reason = name + " was taken from " + std::string(v.reading > 0 ? "higher" : "lower") +
                   " up than the scene: the horizons lie " + figure(std::abs(v.reading), 0) + " % of its height apart.";
        const scene::LayerId id = c.layer.id;
        const double by = should - own;
        v.remedies.push_back({"meet_horizons", "Move it so that the horizons meet",
                              [id, by](const scene::Scene& s, base::Executor&) -> base::Result<scene::Edit> {
                                const scene::Layer* l = scene::findLayer(s, id);
                                if (!l || !l->picture()) return base::Error{base::Code::notFound, "", "the layer is gone"};
                                scene::Placement at = l->picture()->placement;
                                at.y += by;
                                return scene::Edit(scene::SetPlacement{id, at});
                              }});
      }
    }
    c.add(std::move(v));
  }
}

}  // namespace hseam::findings
