#include "core/scene/made_record.h"

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

Json pointJson(base::Point p) {
  return {p.x, p.y};
}
base::Point pointFrom(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>()};
}
Json lightJson(const LightFrom& l) {
  return {{"azimuthDeg", l.azimuthDeg}, {"elevationDeg", l.elevationDeg}, {"sizeDeg", l.sizeDeg}};
}
LightFrom lightFrom(const Json& j) {
  const Json& l = j.at("from");
  return {l.at("azimuthDeg").get<double>(), l.at("elevationDeg").get<double>(), l.at("sizeDeg").get<double>()};
}

struct LightToJson {
  Json operator()(const CastShadow& s) const {
    return {{"cast",
             {{"from", lightJson(s.light)},
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
    return {{"shading", {{"from", lightJson(s.light)}, {"roundPx", s.roundPx}, {"lights", s.lights}, {"darks", s.darks}}}};
  }
  Json operator()(const EdgeLight& s) const {
    return {{"edge",
             {{"from", lightJson(s.light)},
              {"widthPx", s.widthPx},
              {"softness", s.softness},
              {"lit", s.lit},
              {"dark", s.dark},
              {"litColour", s.litColour},
              {"darkColour", s.darkColour}}}};
  }
};

struct FillToJson {
  Json operator()(const SolidFill& f) const { return {{"solid", {{"colour", f.colour}}}}; }
  Json operator()(const GradientFill& f) const {
    constexpr const char* kForms[] = {"along", "round", "mirrored"};
    Json stops = Json::array();
    for (const auto& s : f.stops) stops.push_back({{"at", s.at}, {"colour", s.colour}, {"coverage", s.coverage}});
    return {{"gradient",
             {{"form", kForms[std::size_t(f.form)]}, {"from", pointJson(f.from)}, {"to", pointJson(f.to)}, {"stops", stops}}}};
  }
  Json operator()(const NoiseFill& f) const {
    return {{"noise", {{"sizePx", f.sizePx}, {"octaves", f.octaves}, {"seed", f.seed}, {"dark", f.dark}, {"light", f.light}}}};
  }
};

Fill fillOf(const Json& j) {
  if (j.contains("solid")) return SolidFill{j.at("solid").at("colour").get<Colour3>()};
  if (j.contains("noise")) {
    const Json& n = j.at("noise");
    return NoiseFill{n.at("sizePx").get<double>(), int(std::clamp(n.at("octaves").get<double>(), 0.0, 99.0)),
                     std::uint32_t(std::clamp(n.at("seed").get<double>(), 0.0, 4e9)), n.at("dark").get<Colour3>(),
                     n.at("light").get<Colour3>()};
  }
  const Json& g = j.at("gradient");
  GradientFill f;
  const std::string form = g.at("form").get<std::string>();
  f.form = form == "round" ? GradientFill::Form::round
                           : (form == "mirrored" ? GradientFill::Form::mirrored : GradientFill::Form::along);
  f.from = pointFrom(g.at("from"));
  f.to = pointFrom(g.at("to"));
  f.stops.clear();
  for (const Json& s : g.at("stops"))
    f.stops.push_back({s.at("at").get<double>(), s.at("colour").get<Colour3>(), s.at("coverage").get<double>()});
  return f;
}

}  // namespace

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

Json toJson(const FillContent& f) {
  Json j = std::visit(FillToJson{}, f.fill);
  if (f.stroke) {
    const path::StrokeStyle& s = f.stroke->style;
    j["stroke"] = {{"along", toJson(f.stroke->along)},
                   {"widthPx", s.widthPx},
                   {"dashPx", s.dashPx},
                   {"gapPx", s.gapPx},
                   {"roundEnds", s.roundEnds}};
  }
  return j;
}

base::Result<FillContent> fillFromJson(const Json& j) {
  FillContent f{fillOf(j), nullptr};
  if (j.contains("stroke")) {
    const Json& s = j.at("stroke");
    HSEAM_TRY(path::Path along, pathFromJson(s.at("along")));
    f.stroke = std::make_shared<const Stroke>(Stroke{std::move(along),
                                                     {s.at("widthPx").get<double>(), s.at("dashPx").get<double>(),
                                                      s.at("gapPx").get<double>(), s.at("roundEnds").get<bool>()}});
  }
  return f;
}

Json toJson(const Floor& f) {
  return {{"horizonY", f.horizonY}, {"tiltDeg", f.tiltDeg}, {"cameraHeightM", f.cameraHeightM}, {"viewAngleDeg", f.viewAngleDeg}};
}

Floor floorFromJson(const Json& j) {
  return {j.at("horizonY").get<double>(), j.at("tiltDeg").get<double>(), j.at("cameraHeightM").get<double>(),
          j.at("viewAngleDeg").get<double>()};
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
