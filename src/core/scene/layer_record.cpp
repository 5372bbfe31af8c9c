#include "core/scene/layer_record.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/scene/adjustment_record.h"
#include "core/scene/json_side.h"
#include "core/scene/made_record.h"

namespace hseam::scene {
namespace {

using Json = nlohmann::json;
using base::Code;
using base::Error;
using base::Result;

Json placementJson(const Placement& p) {
  return {{"x", p.x},         {"y", p.y},         {"scale", p.scale},    {"rotationDeg", p.rotationDeg},
          {"flipX", p.flipX}, {"flipY", p.flipY}, {"skewDeg", p.skewDeg}};
}
Placement placementFrom(const Json& j) {
  return {j.at("x").get<double>(),   j.at("y").get<double>(),   j.at("scale").get<double>(), j.at("rotationDeg").get<double>(),
          j.at("flipX").get<bool>(), j.at("flipY").get<bool>(), j.value("skewDeg", 0.0)};
}

// The parts of a cut by their key; null pictures are left out.
struct CutPart {
  const char* key;
  image::TiledImage Cutout::*picture;
};
constexpr CutPart kCutParts[] = {{"selection", &Cutout::selection}, {"hints", &Cutout::hints},   {"band", &Cutout::band},
                                 {"alpha", &Cutout::alpha},         {"shaped", &Cutout::shaped}, {"clean", &Cutout::clean}};

Json aboutJson(const image::Metadata& m) {
  Json j = Json::object();
  for (const auto& [key, value] : {std::pair("camera", &m.camera),
                                   {"lens", &m.lens},
                                   {"takenAt", &m.takenAt},
                                   {"title", &m.title},
                                   {"creator", &m.creator},
                                   {"rights", &m.rights}}) {
    if (!value->empty()) j[key] = *value;
  }
  for (const auto& [key, value] : {std::pair("exposureS", m.exposureS),
                                   {"aperture", m.aperture},
                                   {"focalMm", m.focalMm},
                                   {"focal35Mm", m.focal35Mm},
                                   {"iso", double(m.iso)}}) {
    if (value > 0) j[key] = value;
  }
  return j;
}
image::Metadata aboutFrom(const Json& j) {
  image::Metadata m;
  m.camera = j.value("camera", "");
  m.lens = j.value("lens", "");
  m.takenAt = j.value("takenAt", "");
  m.title = j.value("title", "");
  m.creator = j.value("creator", "");
  m.rights = j.value("rights", "");
  m.exposureS = j.value("exposureS", 0.0);
  m.aperture = j.value("aperture", 0.0);
  m.focalMm = j.value("focalMm", 0.0);
  m.focal35Mm = j.value("focal35Mm", 0.0);
  m.iso = int(std::clamp(j.value("iso", 0.0), 0.0, 1e8));
  return m;
}

Json pictureJson(const PictureContent& p, const ImageName& name) {
  Json cut = {{"useClean", p.cutout.useClean}, {"recipe", p.cutout.recipe}};
  for (const CutPart& part : kCutParts) {
    if (const auto& picture = p.cutout.*part.picture; !picture.isNull()) cut[part.key] = name(picture);
  }
  if (!p.cutout.edgePlan.empty()) cut["edgePlan"] = p.cutout.edgePlan;
  for (const NamedSelection& n : p.cutout.saved) cut["saved"].push_back({{"name", n.name}, {"coverage", name(n.coverage)}});
  Json j = {{"source", name(p.source)},
            {"sourceName", p.sourceName},
            {"sourceHash", p.sourceHash},
            {"placement", placementJson(p.placement)},
            {"cut", cut}};
  if (p.byHand) j["byHand"] = true;
  if (p.horizonY) j["horizonY"] = *p.horizonY;
  if (p.warp) j["warp"] = toJson(*p.warp);
  if (!p.reference.isNull()) j["reference"] = name(p.reference);
  if (p.realHeightM > 0) j["realHeightM"] = p.realHeightM;
  if (p.about != image::Metadata{}) j["about"] = aboutJson(p.about);
  return j;
}

Result<PictureContent> pictureFrom(const Json& j, const ImageByName& image) {
  PictureContent p;
  HSEAM_TRY(p.source, image(j.at("source").get<std::string>()));
  p.sourceName = j.at("sourceName").get<std::string>();
  p.sourceHash = j.at("sourceHash").get<std::string>();
  p.about = aboutFrom(j.value("about", Json::object()));
  p.placement = placementFrom(j.at("placement"));
  if (j.contains("warp")) p.warp = std::make_shared<const Warp>(warpFromJson(j.at("warp")));
  p.realHeightM = j.value("realHeightM", 0.0);
  p.byHand = j.value("byHand", false);
  if (j.contains("horizonY")) p.horizonY = j.at("horizonY").get<double>();
  if (j.contains("reference")) {
    HSEAM_TRY(p.reference, image(j.at("reference").get<std::string>()));
  }
  const Json& cut = j.at("cut");
  p.cutout.useClean = cut.at("useClean").get<bool>();
  p.cutout.recipe = cut.at("recipe").get<std::string>();
  p.cutout.edgePlan = cut.value("edgePlan", "");
  for (const Json& n : cut.value("saved", Json::array())) {
    NamedSelection& kept = p.cutout.saved.emplace_back(NamedSelection{n.at("name").get<std::string>(), {}});
    HSEAM_TRY(kept.coverage, image(n.at("coverage").get<std::string>()));
  }
  for (const CutPart& part : kCutParts) {
    if (!cut.contains(part.key)) continue;
    HSEAM_TRY(p.cutout.*part.picture, image(cut.at(part.key).get<std::string>()));
  }
  return p;
}

Result<std::vector<LayerRef>> layersFrom(const Json& names, const LayerByName& child) {
  std::vector<LayerRef> layers;
  for (const Json& n : names) {
    HSEAM_TRY(LayerRef l, child(n.get<std::string>()));
    layers.push_back(std::move(l));
  }
  return layers;
}

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
  if (const auto* p = l.picture()) j["picture"] = pictureJson(*p, image);
  if (const auto* a = l.adjustment()) j["adjustment"] = toJson(a->adjustment);
  if (const auto* light = l.light()) j["light"] = toJson(*light);
  if (const auto* f = l.fill()) j["fill"] = toJson(*f);
  if (const auto* g = l.group()) {
    j["group"] = namesOf(g->layers, child);
    if (!g->isolated) j["isolated"] = false;
  }
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
    if (j.contains("picture")) {
      HSEAM_TRY(l.content, pictureFrom(j.at("picture"), image));
    } else if (j.contains("adjustment")) {
      HSEAM_TRY(Adjustment a, adjustmentFromJson(j.at("adjustment")));
      l.content = AdjustmentContent{std::move(a)};
    } else if (j.contains("light")) {
      HSEAM_TRY(l.content, lightFromJson(j.at("light")));
    } else if (j.contains("fill")) {
      HSEAM_TRY(l.content, fillFromJson(j.at("fill")));
    } else {
      HSEAM_TRY(auto layers, layersFrom(j.at("group"), child));
      l.content = GroupContent{std::move(layers), j.value("isolated", true)};
    }
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
    HSEAM_TRY(s.layers, layersFrom(j.at("layers"), child));
    s.highestId = {j.value("highestId", std::uint64_t(0))};
    for (const Json& g : j.value("guides", Json::array())) {
      Guide& read = s.guides.emplace_back(Guide{g.at("vertical").get<bool>(), g.at("at").get<double>()});
      if (g.contains("meets")) read.meets = {g.at("meets").at(0).get<double>(), g.at("meets").at(1).get<double>()};
    }
    if (j.contains("floor")) s.floor = floorFromJson(j.at("floor"));
    if (j.contains("judging")) s.judging = std::make_shared<const Judging>(judgingFromJson(j.at("judging")));
    HSEAM_DO(validate(s));
    return s;
  });
}

}  // namespace hseam::scene
