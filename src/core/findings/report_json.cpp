#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/findings/report.h"

namespace hseam::findings {
namespace {

using Json = nlohmann::json;

// The sentence as its id and values.
Json wordsJson(const Words& words) {
  Json j = {{"id", keyOf(words.says)}, {"values", Json::array()}};
  for (const Words::Value& v : words.values) {
    if (const auto* part = std::get_if<Words>(&v)) {
      j["values"].push_back(wordsJson(*part));
    } else if (const auto* figure = std::get_if<Figure>(&v)) {
      j["values"].push_back(figure->value);
    } else {
      j["values"].push_back(std::get<std::string>(v));
    }
  }
  return j;
}

Json verdictJson(const Verdict& v) {
  const Kind& k = kindOf(v.kind);
  Json j = {{"kind", k.key}, {"layer", v.layerName}, {"unit", k.unit}, {"told", v.available}};
  if (v.asks != Asks::nothing) j["asks"] = v.asks == Asks::floor ? "floor" : "light";
  if (!v.available) {
    j["why"] = v.reason.text();
    return j;
  }
  j["reading"] = v.reading;
  j["spread"] = v.spread;
  j["target"] = v.target;
  j["tolerance"] = v.tolerance;
  j["excess"] = v.excess;
  j["severity"] = v.severity;
  j["region"] = {v.region.x, v.region.y, v.region.width, v.region.height};
  j["reason"] = v.sentence.text();
  j["says"] = wordsJson(v.sentence);
  j["remedies"] = Json::array();
  for (const Remedy& r : v.remedies) j["remedies"].push_back({{"id", keyOf(r.id)}, {"label", r.label.text()}});
  for (const Remedy& r : v.sceneRemedies) j["scene_remedies"].push_back({{"id", keyOf(r.id)}, {"label", r.label.text()}});
  return j;
}

}  // namespace

std::string reportJson(const Report& report, double workS) {
  Json j = {{"findings", Json::array()},
            {"readings", Json::array()},
            {"layers", Json::array()},
            {"tightness", report.tightness},
            {"work_s", workS}};
  for (const Verdict& v : report.findings) j["findings"].push_back(verdictJson(v));
  for (const Verdict& v : report.readings) {
    Json r = verdictJson(v);
    r.erase("reason");
    r.erase("says");
    r.erase("remedies");
    r.erase("scene_remedies");
    if (v.quiet) r["quiet"] = true;
    j["readings"].push_back(std::move(r));
  }
  for (const LayerTightness& l : report.layers) j["layers"].push_back({{"name", l.name}, {"tightness", l.tightness}});
  if (report.floor.floor) {
    const scene::Floor& f = *report.floor.floor;
    j["found_floor"] = {
        {"horizon_y", f.horizonY}, {"tilt_deg", f.tiltDeg}, {"spread_px", report.floor.spreadPx}, {"lines", report.floor.lines}};
  }
  return base::jsonText(j);
}

}  // namespace hseam::findings
