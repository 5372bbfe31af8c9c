#include "core/scene/layer_record.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/scene/content/kind.h"
#include "core/scene/json_side.h"
#include "core/scene/made_record.h"

namespace hseam::scene {
namespace {

using Json = nlohmann::json;
using base::Code;
using base::Error;
using base::Result;

Json namesOf(const std::vector<LayerRef>& layers, const LayerName& child) {
  Json names = Json::array();
  for (const LayerRef& l : layers) names.push_back(child(l));
  return names;
}

}  // namespace

std::string layerRecord(const Layer& l, const ImageName& image, const LayerName& child) {
  Json j = {{"id", l.id.value},
            {"name", l.name},
            {"hidden", l.hidden},
            {"opacity", l.opacity},
            {"mode", blendModeName(l.mode)},
            {"clip", l.clip},
            {"maskEnabled", l.mask.enabled}};
  if (!l.mask.coverage.isNull()) j["mask"] = image(l.mask.coverage);
  if (l.mask.path) j["path"] = toJson(*l.mask.path);
  if (l.mask.pathActs) j["pathActs"] = true;
  if (!l.mask.numbers.neutral()) {
    j["maskNumbers"] = toJson(l.mask.numbers);
    if (l.mask.numbers.heldAt) j["maskNumbers"]["heldAt"] = placementJson(*l.mask.numbers.heldAt);
  }
  if (!l.shows.neutral()) j["shows"] = {{"own", l.shows.own}, {"below", l.shows.below}};
  if (!l.mask.painted.isNull()) j["painted"] = image(l.mask.painted);
  kindOf(l).write(l, {image, child}, j);
  if (l.locked) j["locked"] = true;
  return base::jsonText(j);
}

Result<Layer> layerFromRecord(const std::string& record, const ImageByName& image, const LayerByName& child) {
  return guarded<Layer>("layer", [&]() -> Result<Layer> {
    const Json j = Json::parse(record);
    Layer l;
    l.id = {j.at("id").get_ref<const Json::number_unsigned_t&>()};  // throws on fractions and on what 64 bits do not hold
    l.name = j.at("name").get<std::string>();
    l.hidden = j.at("hidden").get<bool>();
    l.opacity = j.at("opacity").get<double>();
    const auto mode = blendModeNamed(j.at("mode").get<std::string>());
    if (!mode) return Error{Code::unsupported, l.name, "its blend mode is unknown to this version"};
    l.mode = *mode;
    l.clip = j.at("clip").get<bool>();
    l.mask.enabled = j.at("maskEnabled").get<bool>();
    if (j.contains("mask")) {
      HSEAM_TRY(l.mask.coverage, image(j.at("mask").get<std::string>()));
    }
    if (j.contains("path")) {
      HSEAM_TRY(path::Path p, pathFromJson(j.at("path")));
      l.mask.path = std::make_shared<const path::Path>(std::move(p));
    }
    l.mask.pathActs = l.mask.path && j.value("pathActs", false);
    if (l.mask.pathActs && j.contains("painted")) {
      HSEAM_TRY(l.mask.painted, image(j.at("painted").get<std::string>()));
    }
    if (j.contains("maskNumbers")) {
      l.mask.numbers = maskNumbersFromJson(j.at("maskNumbers"));
      if (j.at("maskNumbers").contains("heldAt")) l.mask.numbers.heldAt = placementFrom(j.at("maskNumbers").at("heldAt"));
    }
    if (j.contains("shows")) {
      l.shows = {j.at("shows").at("own").get<std::array<double, 4>>(), j.at("shows").at("below").get<std::array<double, 4>>()};
    }
    const auto& kinds = contentKinds();
    const auto kind = std::find_if(kinds.begin(), kinds.end(), [&](const ContentKind* k) { return j.contains(k->key); });
    if (kind == kinds.end()) return Error{Code::unsupported, l.name, "its kind is unknown to this version"};
    HSEAM_DO((*kind)->read(j, {image, child}, l));
    l.locked = j.value("locked", false);
    return l;
  });
}

std::string sceneRecord(const Scene& s, const LayerName& child) {
  Json j{{"canvas", {s.canvas.width, s.canvas.height}},
         {"mixing", s.mixing == Mixing::linear ? "linear" : "encoded"},
         {"layers", namesOf(s.layers, child)}};
  if (s.highestId.value != 0) j["highestId"] = s.highestId.value;
  if (s.floor) j["floor"] = toJson(*s.floor);
  if (s.light) j["light"] = toJson(*s.light);
  if (s.judging) j["judging"] = toJson(*s.judging);
  for (const Guide& g : s.guides) {
    Json guide{{"vertical", g.vertical}, {"at", g.at}};
    if (g.meets) guide["meets"] = {g.meets->x, g.meets->y};
    j["guides"].push_back(std::move(guide));
  }
  return base::jsonText(j);
}

Result<Scene> sceneFromRecord(const std::string& record, const LayerByName& child) {
  return guarded<Scene>("scene", [&]() -> Result<Scene> {
    const Json j = Json::parse(record);
    Scene s;
    s.canvas = {sideFrom(j.at("canvas").at(0)), sideFrom(j.at("canvas").at(1))};
    s.mixing = j.at("mixing").get<std::string>() == "encoded" ? Mixing::encoded : Mixing::linear;
    for (const Json& n : j.at("layers")) {
      HSEAM_TRY(LayerRef l, child(n.get<std::string>()));
      s.layers.push_back(std::move(l));
    }
    s.highestId = {j.value("highestId", std::uint64_t(0))};
    for (const Json& g : j.value("guides", Json::array())) {
      Guide& read = s.guides.emplace_back(Guide{g.at("vertical").get<bool>(), g.at("at").get<double>()});
      if (g.contains("meets")) read.meets = {g.at("meets").at(0).get<double>(), g.at("meets").at(1).get<double>()};
    }
    if (j.contains("floor")) s.floor = floorFromJson(j.at("floor"));
    if (j.contains("light")) s.light = placeLightFromJson(j.at("light"));
    if (j.contains("judging")) s.judging = std::make_shared<const Judging>(judgingFromJson(j.at("judging")));
    HSEAM_DO(validate(s));
    return s;
  });
}

}  // namespace hseam::scene
