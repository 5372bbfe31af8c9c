#include "core/store/described_made.h"

#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "core/scene/edit.h"
#include "core/scene/made_record.h"
#include "core/scene/set_words.h"
#include "core/store/names.h"

namespace hseam::store {
namespace {

using Json = nlohmann::json;

// Of a foot that is still to be found.
constexpr double kUnset = -1e30;

base::Point pointOf(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>()};
}

// A number under a key, into a place.
struct Number {
  const char* key;
  double* into;
};
void read(const Json& j, std::initializer_list<Number> numbers) {
  for (const Number& n : numbers) *n.into = j.value(n.key, *n.into);
}
const std::set<std::string> kFrom = {"azimuth_deg", "elevation_deg", "size_deg"};
std::set<std::string> withFrom(std::set<std::string> keys) {
  keys.insert(kFrom.begin(), kFrom.end());
  return keys;
}
void readFrom(const Json& j, scene::LightFrom& from) {
  read(j, {{"azimuth_deg", &from.azimuthDeg}, {"elevation_deg", &from.elevationDeg}, {"size_deg", &from.sizeDeg}});
}

base::Result<scene::LightKind> kindOf(const Json& j, const std::string& where) {
  if (j.contains("cast")) {
    const Json& c = j.at("cast");
    HSEAM_DO(onlyDescribedKeys(c, withFrom({"foot", "density", "fade_heights", "colour", "wall_y"}), where + ".cast"));
    scene::CastShadow s;
    readFrom(c, s.light);
    s.foot = c.contains("foot") ? pointOf(c.at("foot")) : base::Point{kUnset, kUnset};
    read(c, {{"density", &s.density}, {"fade_heights", &s.fadeHeights}, {"wall_y", &s.wallY}});
    s.colour = c.value("colour", s.colour);
    return scene::LightKind(s);
  }
  if (j.contains("contact")) {
    const Json& c = j.at("contact");
    HSEAM_DO(onlyDescribedKeys(c, {"line", "width_px", "density", "flatness", "colour"}, where + ".contact"));
    scene::ContactShadow s;
    for (const Json& p : c.at("line")) s.line.push_back(pointOf(p));
    read(c, {{"width_px", &s.widthPx}, {"density", &s.density}, {"flatness", &s.flatness}});
    s.colour = c.value("colour", s.colour);
    return scene::LightKind(std::move(s));
  }
  if (j.contains("shading")) {
    const Json& c = j.at("shading");
    HSEAM_DO(onlyDescribedKeys(c, withFrom({"round_px", "lights", "darks"}), where + ".shading"));
    scene::Shading s;
    readFrom(c, s.light);
    read(c, {{"round_px", &s.roundPx}, {"lights", &s.lights}, {"darks", &s.darks}});
    return scene::LightKind(s);
  }
  const Json& c = j.at("edge");
  HSEAM_DO(onlyDescribedKeys(c, withFrom({"width_px", "softness", "lit", "dark", "lit_colour", "dark_colour"}), where + ".edge"));
  scene::EdgeLight s;
  readFrom(c, s.light);
  read(c, {{"width_px", &s.widthPx}, {"softness", &s.softness}, {"lit", &s.lit}, {"dark", &s.dark}});
  s.litColour = c.value("lit_colour", s.litColour);
  s.darkColour = c.value("dark_colour", s.darkColour);
  return scene::LightKind(s);
}

}  // namespace

base::Error wrongDescription(const std::string& where, const std::string& what) {
  return {Code::invalid, where, what};
}

Status onlyDescribedKeys(const Json& object, const std::set<std::string>& allowed, const std::string& where) {
  if (!object.is_object()) return wrongDescription(where, "must be an object");
  for (const auto& [key, value] : object.items()) {
    if (!allowed.contains(key)) return wrongDescription(where, "\"" + key + "\" is not a key of a scene description");
  }
  return {};
}

scene::PlaceLight describedPlaceLight(const Json& j) {
  scene::PlaceLight light;
  light.casts = j.value("casts", true);
  light.from.azimuthDeg = j.value("azimuth_deg", light.from.azimuthDeg);
  light.from.elevationDeg = j.value("elevation_deg", light.from.elevationDeg);
  light.from.sizeDeg = j.value("size_deg", light.from.sizeDeg);
  light.density = j.value("density", light.density);
  if (j.contains("colour")) light.colour = j.at("colour").get<scene::Colour3>();
  const auto point = [&](const char* key) { return base::Point{j.at(key).at(0).get<double>(), j.at(key).at(1).get<double>()}; };
  if (j.contains("tip")) light.seen = {point("foot"), point("top"), point("tip")};
  return light;
}

scene::Floor describedFloor(const Json& j, base::Size canvas) {
  scene::Floor f = scene::usualFloor(canvas);
  read(j, {{"horizon_y", &f.horizonY},
           {"tilt_deg", &f.tiltDeg},
           {"camera_height_m", &f.cameraHeightM},
           {"view_angle_deg", &f.viewAngleDeg}});
  return f;
}

base::Result<scene::LightContent> describedLight(const Json& j, std::string& of, const std::string& where) {
  HSEAM_DO(onlyDescribedKeys(j, {"of", "cast", "contact", "shading", "edge"}, where));
  if (j.size() != 2) return wrongDescription(where, "must have \"of\" and one of \"cast\", \"contact\", \"shading\", \"edge\"");
  of = j.at("of").get<std::string>();
  HSEAM_TRY(scene::LightKind kind, kindOf(j, where));
  return scene::LightContent{{}, std::move(kind)};
}

base::Result<scene::MaskNumbers> describedMaskNumbers(const Json& j, std::string& of, const std::string& where) {
  HSEAM_DO(onlyDescribedKeys(j, {"parts", "lowest", "softness_px"}, where));
  scene::MaskNumbers n;
  n.lowest = j.value("lowest", 0.0);
  n.softnessPx = j.value("softness_px", 0.0);
  Json parts = j.value("parts", Json::array());
  for (Json& p : parts) {
    for (const auto& [key, initial] : std::initializer_list<std::pair<const char*, Json>>{
             {"joins", "within"}, {"inverted", false}, {"strength", 1.0}, {"form", "along"}, {"softness", 0.0}}) {
      if (!p.contains(key)) p[key] = initial;
    }
    if (p.at("kind") == "layer") {
      const std::string name = p.at("layer").get<std::string>();
      if (!of.empty() && of != name) return wrongDescription(where, "the parts of one mask can follow one layer only");
      of = name;
      p["layer"] = 0u;
    }
  }
  const scene::MaskNumbers read =
      scene::maskNumbersFromJson({{"parts", parts}, {"lowest", n.lowest}, {"softnessPx", n.softnessPx}});
  HSEAM_DO(scene::validMaskNumbers(read));
  return read;
}

base::Result<MadeFill> describedFill(const Json& layer, base::Size canvas, const std::shared_ptr<image::TileMemory>& memory,
                                     const std::string& where) {
  MadeFill out;
  if (layer.contains("fill")) {
    HSEAM_TRY(out.fill, scene::fillFromJson(layer.at("fill")));
    HSEAM_DO(scene::validFill(out.fill));
    if (out.fill.lettering || out.fill.stroke)
      return wrongDescription(where + ".fill", "must be one of \"solid\", \"gradient\", \"noise\"");
    return out;
  }
  Json words = layer.at("words");
  HSEAM_DO(onlyDescribedKeys(
      words, {"words", "family", "style", "size_px", "tracking", "leading", "align", "at", "colour", "bend"}, where + ".words"));
  const auto colour = words.value("colour", scene::Colour3{0.95, 0.93, 0.88});
  if (words.contains("size_px")) words["sizePx"] = words.at("size_px");
  HSEAM_TRY(out.fill, scene::fillFromJson({{"solid", {{"colour", colour}}}, {"lettering", words}}));
  HSEAM_DO(scene::validFill(out.fill));
  std::shared_ptr<const scene::Bend> bend;
  if (words.contains("bend")) {
    Json warp = words.at("bend");
    HSEAM_DO(onlyDescribedKeys(warp, {"tacks", "columns", "rows", "grid", "corners"}, where + ".words.bend"));
    for (const char* part : {"tacks", "columns", "rows", "grid", "corners"}) {
      if (!warp.contains(part)) warp[part] = Json::array();
    }
    HSEAM_TRY(const base::Rect box, scene::boxOf(*out.fill.lettering));
    bend = std::make_shared<const scene::Bend>(scene::Bend{box, scene::warpFromJson(warp)});
  }
  scene::Layer plain;
  plain.content = out.fill;
  HSEAM_TRY(scene::WordsSet set, scene::setWords(plain, *out.fill.lettering, bend, canvas, memory));
  if (set.otherTypeface) return wrongDescription(where + ".words", "there is no such typeface: " + out.fill.lettering->family);
  HSEAM_DO(scene::validFill(set.edit.fill));
  return MadeFill{std::move(set.edit.fill), std::move(set.edit.mask)};
}

Status namesToLayers(scene::Scene& scene, const std::vector<NamedLink>& links) {
  scene::Several all{"names", {}};
  for (const NamedLink& link : links) {
    const scene::Layer* to = nullptr;
    for (const scene::LayerRef& l : scene::allLayers(scene)) {
      if (l->name == link.to && (!link.light || scene::casts(*l))) to = l.get();
    }
    if (!to)
      return wrongDescription(link.to, link.light ? "there is no picture, group or fill of this name for a light to follow"
                                                  : "there is no such layer");
    const scene::Layer& from = *scene::findLayer(scene, link.from);
    if (!link.light) {
      scene::MaskNumbers n = from.mask.numbers;
      for (scene::MaskPart& p : n.parts) {
        if (auto* part = std::get_if<scene::LayerPart>(&p.kind)) part->layer = to->id;
      }
      all.edits.push_back({scene::SetMaskNumbers{link.from, std::move(n), "described"}});
      continue;
    }
    scene::LightContent light = *from.light();
    light.caster = to->id;
    if (auto* cast = std::get_if<scene::CastShadow>(&light.kind); cast && cast->foot.x == kUnset) {
      const base::Rect own = to->picture() ? base::Rect::of(to->picture()->source.size()) : scene::boundsOf(scene, *to);
      cast->foot = {own.x + own.width / 2.0, double(own.bottom())};
    }
    all.edits.push_back({scene::SetLight{link.from, std::move(light)}});
  }
  HSEAM_TRY(scene, scene::apply(scene, all));
  return {};
}

}  // namespace hseam::store
