#include "core/scene/content/frame_set.h"

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/scene/content/kind.h"
#include "core/scene/json_side.h"

namespace hseam::scene {
namespace {

using Json = nlohmann::json;

constexpr std::size_t kMostFrames = 250;
constexpr const char* kWayNames[] = {"picked", "lamps", "lightest"};

bool liesWithin(double v, double low, double high) {
  return v >= low && v <= high;
}

bool validFrame(const SetFrame& f) {
  if (f.picture.isNull() || image::channelsOf(f.picture.format()) < 3) return false;
  for (const double v : f.toBase) {
    if (!liesWithin(v, -1e6, 1e6)) return false;
  }
  for (const double v : f.tint) {
    if (!liesWithin(v, 0, 4)) return false;
  }
  for (const double v : {f.gainStops, f.redStops, f.blueStops}) {
    if (!liesWithin(v, -20, 20)) return false;
  }
  return liesWithin(f.strength, 0, 8) && f.toBase[8] != 0;
}

Json frameJson(const SetFrame& f, const RecordOut& out) {
  Json j = {{"name", f.name},
            {"picture", out.image(f.picture)},
            {"toBase", f.toBase},
            {"lightStops", {f.gainStops, f.redStops, f.blueStops}},
            {"fit", {f.residualPx, f.inlierShare, f.parallaxShare}},
            {"used", f.used},
            {"strength", f.strength},
            {"tint", f.tint}};
  if (!f.unfit.empty()) j["unfit"] = f.unfit;
  return j;
}
base::Result<SetFrame> frameFrom(const Json& j, const RecordIn& in) {
  SetFrame f;
  f.name = j.at("name").get<std::string>();
  HSEAM_TRY(f.picture, in.image(j.at("picture").get<std::string>()));
  f.toBase = j.at("toBase").get<std::array<double, 9>>();
  const auto light = j.at("lightStops").get<std::array<double, 3>>(), fit = j.at("fit").get<std::array<double, 3>>();
  f.gainStops = light[0], f.redStops = light[1], f.blueStops = light[2];
  f.residualPx = fit[0], f.inlierShare = fit[1], f.parallaxShare = fit[2];
  f.used = j.at("used").get<bool>();
  f.strength = j.at("strength").get<double>();
  f.tint = j.at("tint").get<std::array<double, 3>>();
  f.unfit = j.value("unfit", "");
  return f;
}

}  // namespace

base::Status validFrameSet(const FrameSet& set, base::Size base, const std::string& layer) {
  const auto wrong = [&](const char* what) { return base::Error{base::Code::invalid, layer, what}; };
  if (set.frames.size() < 2 || set.frames.size() > kMostFrames) return wrong("a set has 2 to 250 frames");
  for (const SetFrame& f : set.frames) {
    if (!validFrame(f)) return wrong("a frame's picture, place or light is out of range");
  }
  if (set.frames[0].picture.size() != base) return wrong("the base of a set must have the picture's size");
  for (const image::TiledImage* i : {&set.picks, &set.labels}) {
    if (!i->isNull() && (i->size() != base || i->format() != image::PixelFormat::grey8))
      return wrong("the picks of a set do not fit the picture");
  }
  return {};
}

void forEachImage(const FrameSet& set, const std::function<void(const image::TiledImage&)>& visit) {
  const auto seen = [&](const image::TiledImage& i) {
    if (!i.isNull()) visit(i);
  };
  for (const SetFrame& f : set.frames) seen(f.picture);
  seen(set.picks);
  seen(set.labels);
}

Json toJson(const FrameSet& set, const RecordOut& out) {
  Json j = {{"way", kWayNames[std::size_t(set.way)]}, {"frames", Json::array()}};
  for (const SetFrame& f : set.frames) j["frames"].push_back(frameJson(f, out));
  if (!set.picks.isNull()) j["picks"] = out.image(set.picks);
  if (!set.labels.isNull()) j["labels"] = out.image(set.labels);
  return j;
}

base::Result<FrameSet> frameSetFrom(const Json& j, const RecordIn& in) {
  FrameSet set;
  set.way = FrameSet::Way(indexIn(kWayNames, j.at("way").get<std::string>()));
  for (const Json& f : j.at("frames")) {
    HSEAM_TRY(SetFrame frame, frameFrom(f, in));
    set.frames.push_back(std::move(frame));
  }
  for (const auto& [key, image] : {std::pair("picks", &set.picks), {"labels", &set.labels}}) {
    if (!j.contains(key)) continue;
    HSEAM_TRY(*image, in.image(j.at(key).get<std::string>()));
  }
  return set;
}

}  // namespace hseam::scene
