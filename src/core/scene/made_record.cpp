#include "core/scene/made_record.h"

#include <nlohmann/json.hpp>

#include "core/scene/json_side.h"

namespace hseam::scene {

using Json = nlohmann::json;

Json toJson(const path::Path& p) {
  constexpr const char* kJoins[] = {"add", "takeAway", "overlap"};
  Json all = Json::array();
  for (const path::Outline& o : p.outlines) {
    Json nodes = Json::array();
    for (const path::Node& n : o.nodes) nodes.push_back({n.at.x, n.at.y, n.in.x, n.in.y, n.out.x, n.out.y, n.smooth});
    all.push_back({{"closed", o.closed}, {"joins", kJoins[std::size_t(o.joins)]}, {"nodes", nodes}});
  }
  return all;
}
base::Result<path::Path> pathFromJson(const Json& j) {
  path::Path p;
  for (const Json& one : j) {
    path::Outline o;
    o.closed = one.at("closed").get<bool>();
    const std::string joins = one.at("joins").get<std::string>();
    o.joins = joins == "takeAway" ? path::Joins::takeAway : (joins == "overlap" ? path::Joins::overlap : path::Joins::add);
    for (const Json& n : one.at("nodes")) {
      const auto v = [&](std::size_t i) { return n.at(i).get<double>(); };
      o.nodes.push_back({{v(0), v(1)}, {v(2), v(3)}, {v(4), v(5)}, n.at(6).get<bool>()});
    }
    p.outlines.push_back(std::move(o));
  }
  if (const auto wrong = path::fault(p)) return base::Error{base::Code::corrupt, "path", *wrong};
  return p;
}

namespace {

constexpr const char* kPartJoins[] = {"within", "also", "without"};

struct PartToJson {
  Json operator()(const GradientPart& g) const {
    return {{"form", kFormNames[std::size_t(g.form)]}, {"from", pointJson(g.from)}, {"to", pointJson(g.to)}};
  }
  Json operator()(const TonesPart& t) const { return {{"low", t.low}, {"high", t.high}, {"softness", t.softness}}; }
  Json operator()(const ColourPart& c) const { return {{"colour", c.colour}, {"reach", c.reach}, {"softness", c.softness}}; }
  Json operator()(const LayerPart& l) const { return {{"layer", l.layer.value}}; }
};

MaskPart partFrom(const Json& j) {
  MaskPart p;
  const std::string kind = j.at("kind").get<std::string>();
  if (kind == "gradient") {
    p.kind = GradientPart{GradientFill::Form(indexIn(kFormNames, j.at("form").get<std::string>())), pointFrom(j.at("from")),
                          pointFrom(j.at("to"))};
  } else if (kind == "tones") {
    p.kind = TonesPart{j.at("low").get<double>(), j.at("high").get<double>(), j.at("softness").get<double>()};
  } else if (kind == "colour") {
    p.kind = ColourPart{j.at("colour").get<Colour3>(), j.at("reach").get<double>(), j.at("softness").get<double>()};
  } else {
    p.kind = LayerPart{{j.at("layer").get_ref<const Json::number_unsigned_t&>()}};
  }
  p.joins = MaskPart::Joins(indexIn(kPartJoins, j.at("joins").get<std::string>()));
  p.inverted = j.at("inverted").get<bool>();
  p.strength = j.at("strength").get<double>();
  return p;
}

}  // namespace

Json toJson(const MaskNumbers& n) {
  Json parts = Json::array();
  for (const MaskPart& p : n.parts) {
    Json j = std::visit(PartToJson{}, p.kind);
    j["kind"] = maskPartName(p);
    j["joins"] = kPartJoins[std::size_t(p.joins)];
    j["inverted"] = p.inverted;
    j["strength"] = p.strength;
    parts.push_back(std::move(j));
  }
  return {{"parts", parts}, {"lowest", n.lowest}, {"softnessPx", n.softnessPx}};
}

MaskNumbers maskNumbersFromJson(const Json& j) {
  MaskNumbers n;
  for (const Json& p : j.at("parts")) n.parts.push_back(partFrom(p));
  n.lowest = j.at("lowest").get<double>();
  n.softnessPx = j.at("softnessPx").get<double>();
  return n;
}

Json toJson(const Judging& g) {
  Json answered = Json::array();
  for (const Answered& a : g.answered)
    answered.push_back({{"kind", a.kind},
                        {"layer", a.layer.value},
                        {"reading", a.reading},
                        {"excess", a.excess},
                        {"reason", a.reason},
                        {"wrong", a.wrong}});
  return {{"tolerances", g.tolerances}, {"tolerance", g.tolerance}, {"off", g.off}, {"answered", answered}};
}

Judging judgingFromJson(const Json& j) {
  Judging g{j.at("tolerances").get<std::string>(),
            j.at("tolerance").get<std::map<std::string, double>>(),
            j.at("off").get<std::set<std::string>>(),
            {}};
  for (const Json& a : j.at("answered"))
    g.answered.push_back({a.at("kind").get<std::string>(),
                          {a.at("layer").get_ref<const Json::number_unsigned_t&>()},
                          a.at("reading").get<double>(),
                          a.at("excess").get<double>(),
                          a.at("reason").get<std::string>(),
                          a.at("wrong").get<bool>()});
  return g;
}

Json toJson(const Floor& f) {
  return {{"horizonY", f.horizonY}, {"tiltDeg", f.tiltDeg}, {"cameraHeightM", f.cameraHeightM}, {"viewAngleDeg", f.viewAngleDeg}};
}

Floor floorFromJson(const Json& j) {
  return {j.at("horizonY").get<double>(), j.at("tiltDeg").get<double>(), j.at("cameraHeightM").get<double>(),
          j.at("viewAngleDeg").get<double>()};
}

Json toJson(const PlaceLight& l) {
  Json j{{"casts", l.casts}, {"from", toJson(l.from)}, {"density", l.density}, {"colour", l.colour}};
  if (l.seen) j["seen"] = {{"foot", pointJson(l.seen->foot)}, {"top", pointJson(l.seen->top)}, {"tip", pointJson(l.seen->tip)}};
  return j;
}

PlaceLight placeLightFromJson(const Json& j) {
  PlaceLight l;
  l.casts = j.at("casts").get<bool>();
  l.from = lightFromFromJson(j.at("from"));
  l.density = j.at("density").get<double>();
  l.colour = j.at("colour").get<Colour3>();
  if (j.contains("seen")) {
    const Json& seen = j.at("seen");
    l.seen = SeenShadow{pointFrom(seen.at("foot")), pointFrom(seen.at("top")), pointFrom(seen.at("tip"))};
  }
  return l;
}

Json toJson(const Warp& w) {
  const auto points = [](const std::vector<base::Point>& all) {
    Json out = Json::array();
    for (const base::Point& p : all) out.push_back(pointJson(p));
    return out;
  };
  Json tacks = Json::array();
  for (const Tack& t : w.tacks) tacks.push_back({pointJson(t.from), pointJson(t.to)});
  return {{"tacks", tacks}, {"columns", w.columns}, {"rows", w.rows}, {"grid", points(w.grid)}, {"corners", points(w.corners)}};
}

Warp warpFromJson(const Json& j) {
  Warp w;
  const auto points = [](const Json& all) {
    std::vector<base::Point> out;
    for (const Json& p : all) out.push_back(pointFrom(p));
    return out;
  };
  for (const Json& t : j.at("tacks")) w.tacks.push_back({pointFrom(t.at(0)), pointFrom(t.at(1))});
  w.columns = j.at("columns").get<std::vector<double>>();
  w.rows = j.at("rows").get<std::vector<double>>();
  w.grid = points(j.at("grid"));
  w.corners = points(j.at("corners"));
  return w;
}

}  // namespace hseam::scene
