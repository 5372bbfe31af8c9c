#include "core/scene/made_record.h"

#include <nlohmann/json.hpp>

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
constexpr const char* kAligns[] = {"left", "centre", "right"};
constexpr const char* kForms[] = {"along", "round", "mirrored"};

template <std::size_t N>
std::size_t indexIn(const char* const (&names)[N], const std::string& name) {
  for (std::size_t i = 0; i < N; ++i) {
    if (name == names[i]) return i;
  }
  return 0;
}

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
  f.form = GradientFill::Form(indexIn(kForms, g.at("form").get<std::string>()));
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
  if (f.lettering) {
    const text::Lettering& t = *f.lettering;
    j["lettering"] = {{"words", t.words},
                      {"family", t.family},
                      {"style", t.style},
                      {"sizePx", t.sizePx},
                      {"tracking", t.tracking},
                      {"leading", t.leading},
                      {"align", kAligns[std::size_t(t.align)]},
                      {"at", pointJson(t.at)}};
    if (t.along) j["lettering"]["along"] = toJson(*t.along);
  }
  if (f.bend) {
    const base::Rect& b = f.bend->box;
    j["bend"] = {{"box", {b.x, b.y, b.width, b.height}}, {"warp", toJson(f.bend->warp)}};
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
  if (j.contains("lettering")) {
    const Json& t = j.at("lettering");
    text::Lettering l;
    l.words = t.at("words").get<std::string>();
    l.family = t.value("family", l.family);
    l.style = t.value("style", l.style);
    l.sizePx = t.value("sizePx", l.sizePx);
    l.tracking = t.value("tracking", l.tracking);
    l.leading = t.value("leading", l.leading);
    l.align = text::Lettering::Align(indexIn(kAligns, t.value("align", "centre")));
    l.at = pointFrom(t.at("at"));
    if (t.contains("along")) {
      HSEAM_TRY(path::Path along, pathFromJson(t.at("along")));
      l.along = std::make_shared<const path::Path>(std::move(along));
    }
    f.lettering = std::make_shared<const text::Lettering>(std::move(l));
  }
  if (j.contains("bend")) {
    const Json& b = j.at("bend").at("box");
    f.bend = std::make_shared<const Bend>(Bend{{b.at(0).get<int>(), b.at(1).get<int>(), b.at(2).get<int>(), b.at(3).get<int>()},
                                               warpFromJson(j.at("bend").at("warp"))});
  }
  return f;
}

namespace {

struct PartToJson {
  Json operator()(const GradientPart& g) const {
    return {{"form", kForms[std::size_t(g.form)]}, {"from", pointJson(g.from)}, {"to", pointJson(g.to)}};
  }
  Json operator()(const TonesPart& t) const { return {{"low", t.low}, {"high", t.high}, {"softness", t.softness}}; }
  Json operator()(const ColourPart& c) const { return {{"colour", c.colour}, {"reach", c.reach}, {"softness", c.softness}}; }
  Json operator()(const LayerPart& l) const { return {{"layer", l.layer.value}}; }
};

MaskPart partFrom(const Json& j) {
  MaskPart p;
  const std::string kind = j.at("kind").get<std::string>();
  if (kind == "gradient") {
    p.kind = GradientPart{GradientFill::Form(indexIn(kForms, j.at("form").get<std::string>())), pointFrom(j.at("from")),
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
