#include "core/scene/content/light.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/scene/content/kind.h"
#include "core/scene/edit.h"
#include "core/scene/json_side.h"

namespace hseam::scene {
using Json = nlohmann::json;

namespace {

bool within(double v, double low, double high) {
  return v >= low && v <= high;
}
bool isLightColour(const Colour3& c) {
  return within(c[0], 0, 1) && within(c[1], 0, 1) && within(c[2], 0, 1);
}
bool isPlace(base::Point p) {
  return within(p.x, -1e7, 1e7) && within(p.y, -1e7, 1e7);
}
bool fits(const LightFrom& l) {
  return within(l.azimuthDeg, -180, 180) && within(l.elevationDeg, 1, 90) && within(l.sizeDeg, 0, 60);
}

struct LightFits {
  bool operator()(const CastShadow& s) const {
    return fits(s.light) && isPlace(s.foot) && within(s.density, 0, 1) && within(s.fadeHeights, 0.2, 100) &&
           isLightColour(s.colour) && within(s.wallY, 0, 1e7);
  }
  bool operator()(const ContactShadow& s) const {
    for (const base::Point& p : s.line) {
      if (!isPlace(p)) return false;
    }
    return s.line.size() <= 10000 && within(s.widthPx, 0.5, 400) && within(s.density, 0, 1) && within(s.flatness, 0.05, 1) &&
           isLightColour(s.colour);
  }
  bool operator()(const Shading& s) const {
    return fits(s.light) && within(s.roundPx, 2, 1000) && within(s.lights, 0, 1) && within(s.darks, 0, 1);
  }
  bool operator()(const EdgeLight& s) const {
    return fits(s.light) && within(s.widthPx, 0.5, 400) && within(s.softness, 0, 1) && within(s.lit, 0, 1) &&
           within(s.dark, 0, 1) && isLightColour(s.litColour) && isLightColour(s.darkColour);
  }
};

LightFrom lightFrom(const Json& j) {
  return lightFromFromJson(j.at("from"));
}

struct LightToJson {
  Json operator()(const CastShadow& s) const {
    return {{"cast",
             {{"from", toJson(s.light)},
              {"foot", pointJson(s.foot)},
              {"density", s.density},
              {"fadeHeights", s.fadeHeights},
              {"colour", s.colour},
              {"wallY", s.wallY}}}};
  }
  Json operator()(const ContactShadow& s) const {
    Json line = Json::array();
    for (const base::Point& p : s.line) line.push_back(pointJson(p));
    return {{"contact",
             {{"line", line}, {"widthPx", s.widthPx}, {"density", s.density}, {"flatness", s.flatness}, {"colour", s.colour}}}};
  }
  Json operator()(const Shading& s) const {
    return {{"shading", {{"from", toJson(s.light)}, {"roundPx", s.roundPx}, {"lights", s.lights}, {"darks", s.darks}}}};
  }
  Json operator()(const EdgeLight& s) const {
    return {{"edge",
             {{"from", toJson(s.light)},
              {"widthPx", s.widthPx},
              {"softness", s.softness},
              {"lit", s.lit},
              {"dark", s.dark},
              {"litColour", s.litColour},
              {"darkColour", s.darkColour}}}};
  }
};

}  // namespace

Json toJson(const LightFrom& l) {
  return {{"azimuthDeg", l.azimuthDeg}, {"elevationDeg", l.elevationDeg}, {"sizeDeg", l.sizeDeg}};
}
LightFrom lightFromFromJson(const Json& l) {
  return {l.at("azimuthDeg").get<double>(), l.at("elevationDeg").get<double>(), l.at("sizeDeg").get<double>()};
}

const char* lightName(const LightKind& kind) {
  static constexpr const char* kNames[] = {"cast shadow", "contact shadow", "shading", "lit edge"};
  return kNames[kind.index()];
}

base::Status validLight(const LightContent& light) {
  if (std::visit(LightFits{}, light.kind)) return {};
  return base::Error{base::Code::invalid, lightName(light.kind), "one of its values is out of range"};
}

Json toJson(const LightContent& l) {
  Json j = std::visit(LightToJson{}, l.kind);
  j["caster"] = l.caster.value;
  return j;
}

base::Result<LightContent> lightFromJson(const Json& j) {
  LightContent l;
  l.caster = {j.at("caster").get_ref<const Json::number_unsigned_t&>()};
  if (j.contains("cast")) {
    const Json& s = j.at("cast");
    l.kind = CastShadow{lightFrom(s),
                        pointFrom(s.at("foot")),
                        s.at("density").get<double>(),
                        s.at("fadeHeights").get<double>(),
                        s.at("colour").get<Colour3>(),
                        s.at("wallY").get<double>()};
  } else if (j.contains("contact")) {
    const Json& s = j.at("contact");
    ContactShadow c{{},
                    s.at("widthPx").get<double>(),
                    s.at("density").get<double>(),
                    s.at("flatness").get<double>(),
                    s.at("colour").get<Colour3>()};
    for (const Json& p : s.at("line")) c.line.push_back(pointFrom(p));
    l.kind = std::move(c);
  } else if (j.contains("shading")) {
    const Json& s = j.at("shading");
    l.kind = Shading{lightFrom(s), s.at("roundPx").get<double>(), s.at("lights").get<double>(), s.at("darks").get<double>()};
  } else {
    const Json& s = j.at("edge");
    l.kind = EdgeLight{lightFrom(s),
                       s.at("widthPx").get<double>(),
                       s.at("softness").get<double>(),
                       s.at("lit").get<double>(),
                       s.at("dark").get<double>(),
                       s.at("litColour").get<Colour3>(),
                       s.at("darkColour").get<Colour3>()};
  }
  return l;
}

namespace {

const LightContent& lightOf(const Layer& l) {
  return *l.light();
}

base::Status lightIsValid(const Scene&, const Layer& l) {
  return validLight(lightOf(l));
}

// Shadows fall anywhere on the floor; the others stay near their caster's shape.
base::Rect lightBounds(const Scene& scene, const Layer& l) {
  const Layer* caster = findLayer(scene, lightOf(l).caster);
  if (!caster) return {};
  if (std::holds_alternative<CastShadow>(lightOf(l).kind)) return base::Rect::of(scene.canvas);
  const auto* contact = std::get_if<ContactShadow>(&lightOf(l).kind);
  return boundsOf(scene, *caster).grown(contact ? int(4 * contact->widthPx) + 4 : 4);
}

base::Result<std::vector<AnyEdit>> lightWithCanvas(const Layer& l, const CanvasMap& map) {
  HSEAM_TRY(std::vector<AnyEdit> edits, maskWithCanvas(l, map));
  LightContent light = lightOf(l);
  const double k = map.toNew.scale();
  if (auto* s = std::get_if<CastShadow>(&light.kind); s && s->wallY > 0)
    s->wallY = std::max(0.0, map.toNew.map({map.before.width / 2.0, s->wallY}).y);
  if (auto* s = std::get_if<ContactShadow>(&light.kind)) s->widthPx = std::clamp(s->widthPx * k, 0.5, 400.0);
  if (auto* s = std::get_if<Shading>(&light.kind)) s->roundPx = std::clamp(s->roundPx * k, 2.0, 1000.0);
  if (auto* s = std::get_if<EdgeLight>(&light.kind)) s->widthPx = std::clamp(s->widthPx * k, 0.5, 400.0);
  edits.push_back({SetLight{l.id, std::move(light)}});
  return edits;
}

}  // namespace

const ContentKind LightContent::kKind{
    .key = "light",
    .valid = lightIsValid,
    .bounds = lightBounds,
    .grid = [](const Layer&) -> std::optional<PixelGrid> { return std::nullopt; },
    .looksSame = [](const Layer& a, const Layer& b) { return lightOf(a) == lightOf(b); },
    .forEachImage = [](const Layer&, const auto&) {},
    .follows = [](const Layer& l) { return lightOf(l).caster; },
    .copied = [](Layer& l, const auto& renew, base::Size) { renew(std::get<LightContent>(l.content).caster); },
    .write = [](const Layer& l, const RecordOut&, Json& j) { j["light"] = toJson(lightOf(l)); },
    .read = [](const Json& j, const RecordIn&, Layer& l) -> base::Status {
      HSEAM_TRY(l.content, lightFromJson(j.at("light")));
      return {};
    },
    .withCanvas = lightWithCanvas};

}  // namespace hseam::scene
