#include "core/store/scene_description.h"
#include "core/scene/adjustment_record.h"

#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <set>

#include "core/image/picture_file.h"
#include "core/scene/json_side.h"
#include "core/scene/layer_record.h"
#include "core/store/described_made.h"
#include "core/store/names.h"
#include "core/store/project_file.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

const std::set<std::string> kSceneKeys = {"canvas", "mixing", "layers", "floor", "light"};
const std::set<std::string> kCommonKeys = {"name",   "opacity", "blend",        "clip", "hidden",
                                           "locked", "mask",    "mask_numbers", "shows"};
const std::set<std::string> kPictureKeys = {"image",    "position", "scale",         "rotation_deg", "flip_x",    "flip_y",
                                            "skew_deg", "colours",  "real_height_m", "horizon_y",    "permission"};
const std::set<std::string> kAdjustKeys = {"adjust",    "rgb",       "red",   "green", "blue",   "black", "white",  "middle",
                                           "out_black", "out_white", "darks", "mids",  "lights", "stops", "amount", "lightness"};

class Reader {
 public:
  Reader(fs::path folder, std::shared_ptr<image::TileMemory> memory, base::Executor& executor, base::Progress progress)
      : folder_(std::move(folder)), memory_(std::move(memory)), executor_(executor), progress_(std::move(progress)) {}

  Result<Described> read(const Json& j) {
    HSEAM_DO(onlyDescribedKeys(j, kSceneKeys, "scene"));
    const Json& canvas = j.at("canvas");
    HSEAM_DO(onlyDescribedKeys(canvas, {"width", "height"}, "canvas"));
    out_.scene.canvas = {scene::sideFrom(canvas.at("width")), scene::sideFrom(canvas.at("height"))};
    HSEAM_DO(scene::validate(out_.scene));
    const std::string mixing = j.value("mixing", "linear");
    if (mixing != "linear" && mixing != "encoded") return wrongDescription("mixing", "must be \"linear\" or \"encoded\"");
    out_.scene.mixing = mixing == "linear" ? scene::Mixing::linear : scene::Mixing::encoded;
    HSEAM_TRY(out_.scene.layers, layers(j.at("layers"), "layers"));
    if (j.contains("floor")) {
      HSEAM_DO(onlyDescribedKeys(j.at("floor"), {"horizon_y", "tilt_deg", "camera_height_m", "view_angle_deg"}, "floor"));
      out_.scene.floor = describedFloor(j.at("floor"), out_.scene.canvas);
    }
    if (j.contains("light")) {
      HSEAM_DO(onlyDescribedKeys(j.at("light"),
                                 {"casts", "azimuth_deg", "elevation_deg", "size_deg", "density", "colour", "foot", "top", "tip"},
                                 "light"));
      out_.scene.light = describedPlaceLight(j.at("light"));
    }
    HSEAM_DO(namesToLayers(out_.scene, waiting_));
    HSEAM_DO(scene::validate(out_.scene));
    return std::move(out_);
  }

 private:
  Result<std::vector<scene::LayerRef>> layers(const Json& list, const std::string& where) {
    if (!list.is_array()) return wrongDescription(where, "must be a list");
    std::vector<scene::LayerRef> made;
    for (std::size_t i = 0; i < list.size(); ++i) {
      HSEAM_TRY(scene::Layer l, layer(list[i], where + "[" + std::to_string(i) + "]"));
      made.push_back(std::make_shared<const scene::Layer>(std::move(l)));
      progress_.report(double(i + 1) / double(list.size()));
    }
    return made;
  }

  Result<scene::Layer> layer(const Json& j, const std::string& where) {
    HSEAM_DO(hasOneKind(j, where));
    scene::Layer l;
    l.id = {nextId_++};
    l.opacity = j.value("opacity", 1.0);
    l.clip = j.value("clip", false);
    l.hidden = j.value("hidden", false);
    l.locked = j.value("locked", false);
    const std::string blend = j.value("blend", "normal");
    const auto mode = scene::blendModeNamed(blend);
    if (!mode) return wrongDescription(where + ".blend", "\"" + blend + "\" is not a blend mode");
    l.mode = *mode;
    HSEAM_DO(content(j, where, l));
    l.name = j.value("name", l.picture() ? fs::path(l.picture()->sourceName).stem().string() : std::string("layer"));
    HSEAM_DO(mask(j, where, l));
    return l;
  }

  // What it is made of, and no other keys than that has.
  static Status hasOneKind(const Json& j, const std::string& where) {
    if (!j.is_object()) return wrongDescription(where, "must be an object");
    std::set<std::string> allowed = kCommonKeys;
    int kinds = 0;
    for (const char* kind : {"image", "adjust", "group", "light", "fill", "words"}) kinds += j.contains(kind);
    if (kinds != 1)
      return wrongDescription(where,
                              "must have exactly one of \"image\", \"adjust\", \"group\", \"light\", \"fill\" and \"words\"");
    for (const char* made : {"light", "fill", "words"}) {
      if (j.contains(made)) allowed.insert(made);
    }
    if (j.contains("image")) allowed.insert(kPictureKeys.begin(), kPictureKeys.end());
    if (j.contains("adjust")) {
      allowed.insert(kAdjustKeys.begin(), kAdjustKeys.end());
      // Of the table's adjustments, the values of this one.
      if (const auto kind = scene::adjustmentNamed(j.value("adjust", ""))) {
        for (const auto& f : scene::adjustmentKinds()[std::size_t(*kind)].fields) allowed.insert(f.key);
      }
    }
    if (j.contains("group")) allowed.insert({"group", "isolated"});
    return onlyDescribedKeys(j, allowed, where);
  }

  Status content(const Json& j, const std::string& where, scene::Layer& l) {
    if (j.contains("image")) {
      HSEAM_TRY(l.content, picture(j, where));
    } else if (j.contains("adjust")) {
      HSEAM_TRY(l.content, adjustment(j, where));
    } else if (j.contains("light")) {
      std::string of;
      HSEAM_TRY(l.content, describedLight(j.at("light"), of, where + ".light"));
      waiting_.push_back({l.id, of, true});
    } else if (j.contains("fill") || j.contains("words")) {
      HSEAM_TRY(auto made, describedFill(j, out_.scene.canvas, memory_, where));
      l.content = std::move(made.fill);
      l.mask = std::move(made.mask);
    } else {
      if (++depth_ > kMostDepth) return wrongDescription(where, "groups are nested too deeply");
      HSEAM_TRY(auto inside, layers(j.at("group"), where + ".group"));
      --depth_;
      l.content = scene::GroupContent{std::move(inside), j.value("isolated", true)};
    }
    return {};
  }

  Status mask(const Json& j, const std::string& where, scene::Layer& l) {
    if (j.contains("mask")) {
      if (l.fill() && l.mask.pathActs) return wrongDescription(where + ".mask", "words have their own shape");
      HSEAM_TRY(l.mask.coverage, image::readCoverage(resolved(j.at("mask")), memory_, executor_));
      if (auto* p = std::get_if<scene::PictureContent>(&l.content))
        p->cutout.edit().alpha = l.mask.coverage.format() == image::PixelFormat::grey8 ? l.mask.coverage : image::TiledImage();
    }
    if (j.contains("mask_numbers")) {
      std::string of;
      HSEAM_TRY(l.mask.numbers, describedMaskNumbers(j.at("mask_numbers"), of, where + ".mask_numbers"));
      if (!of.empty()) waiting_.push_back({l.id, of, false});
    }
    if (j.contains("shows")) {
      HSEAM_DO(onlyDescribedKeys(j.at("shows"), {"own", "below"}, where + ".shows"));
      l.shows.own = j.at("shows").value("own", l.shows.own);
      l.shows.below = j.at("shows").value("below", l.shows.below);
    }
    return {};
  }

  Result<scene::PictureContent> picture(const Json& j, const std::string& where) {
    scene::PictureContent p;
    const std::string path = resolved(j.at("image"));
    HSEAM_TRY(image::Picture read, image::readPicture(path, memory_, executor_, {}));
    p.source = read.pixels;
    p.sourceName = fs::path(path).filename().string();
    HSEAM_TRY(p.sourceHash, sourceKeyOf(path));
    if (const auto about = image::readMetadata(path); about.ok()) p.about = *about;
    out_.sourceFiles.push_back(path);
    for (const std::string& w : read.warnings) out_.warnings.push_back(p.sourceName + ": " + w);
    if (j.contains("colours")) {
      HSEAM_TRY(const image::Picture clean, image::readPicture(resolved(j.at("colours")), memory_, executor_, {}));
      p.cutout.edit().clean = clean.pixels;
    }
    scene::Placement& at = p.placement;
    if (j.contains("position")) {
      if (!j.at("position").is_array() || j.at("position").size() != 2)
        return wrongDescription(where + ".position", "must be [x, y]");
      at.x = j.at("position")[0].get<double>(), at.y = j.at("position")[1].get<double>();
    }
    at.scale = j.value("scale", 1.0);
    at.rotationDeg = j.value("rotation_deg", 0.0);
    at.flipX = j.value("flip_x", false);
    at.flipY = j.value("flip_y", false);
    at.skewDeg = j.value("skew_deg", 0.0);
    p.realHeightM = j.value("real_height_m", 0.0);
    if (j.contains("permission")) {
      const Json& note = j.at("permission");
      HSEAM_DO(onlyDescribedKeys(note, {"who", "what", "until", "minors", "nobody_seen"}, where + ".permission"));
      p.permission = scene::Permission{note.value("who", ""), note.value("what", ""), note.value("until", ""),
                                       note.value("minors", false), note.value("nobody_seen", false)};
    }
    if (j.contains("horizon_y")) p.horizonY = j.at("horizon_y").get<double>();
    return p;
  }

  static Result<scene::AdjustmentContent> adjustment(const Json& j, const std::string& where) {
    const std::string kind = j.at("adjust").get<std::string>();
    const scene::Tint none;
    const auto tint = [&](const char* key) -> scene::Tint {
      return j.contains(key) ? scene::Tint{j.at(key).at(0).get<double>(), j.at(key).at(1).get<double>()} : none;
    };
    scene::Adjustment a;
    if (kind == "levels") {
      a = scene::Levels{j.value("black", 0.0), j.value("white", 1.0), j.value("middle", 1.0), j.value("out_black", 0.0),
                        j.value("out_white", 1.0)};
    } else if (kind == "balance") {
      a = scene::ColourBalance{tint("darks"), tint("mids"), tint("lights")};
    } else if (const auto known = scene::adjustmentNamed(kind)) {
      scene::ParametricAdjustment n = scene::parametric(*known);
      for (std::size_t i = 0; i < n.values.size(); ++i) n.values[i] = j.value(n.of().fields[i].key, n.values[i]);
      a = n;
    } else if (kind == "curves" || kind == "exposure" || kind == "saturation" || kind == "tonesToColours") {
      HSEAM_TRY(a, scene::adjustmentFromJson({{kind, j}}));
    } else {
      std::string names;
      for (const auto& k : scene::adjustmentKinds()) names += std::string(", ") + k.key;
      return wrongDescription(where + ".adjust",
                              "\"" + kind +
                                  "\" is not an adjustment; there are curves, levels, balance, exposure, saturation, "
                                  "tonesToColours" +
                                  names);
    }
    if (auto ok = scene::validAdjustment(a); !ok.ok()) return wrongDescription(where, ok.error().detail);
    return scene::AdjustmentContent{a};
  }

  std::string resolved(const Json& j) const { return (folder_ / j.get<std::string>()).string(); }

  fs::path folder_;
  std::shared_ptr<image::TileMemory> memory_;
  base::Executor& executor_;
  base::Progress progress_;
  Described out_;
  std::uint64_t nextId_ = 1;
  std::vector<NamedLink> waiting_;  // what points at a layer by its name
  static constexpr int kMostDepth = 64;
  int depth_ = 0;
};

}  // namespace

Result<Described> readDescription(const std::string& path, const std::shared_ptr<image::TileMemory>& memory,
                                  base::Executor& executor, const base::Progress& progress) try {
  std::error_code problem;
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error{fs::exists(path, problem) ? Code::unreadable : Code::notFound, path, "the description cannot be read"};
  const std::string text((std::istreambuf_iterator<char>(file)), std::istreambuf_iterator<char>());
  return Reader(fs::path(path).parent_path(), memory, executor, progress).read(Json::parse(text));
} catch (const Json::exception& e) {
  return Error{Code::corrupt, path, std::string("the description is not right: ") + e.what()};
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::store
