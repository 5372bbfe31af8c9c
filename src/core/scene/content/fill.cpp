#include "core/scene/content/fill.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/path/edit.h"
#include "core/scene/content/kind.h"
#include "core/scene/edit.h"
#include "core/scene/json_side.h"
#include "core/scene/made_record.h"
#include "core/scene/mask_cover.h"

namespace hseam::scene {
using Json = nlohmann::json;

namespace {

constexpr const char* kAligns[] = {"left", "centre", "right"};

bool isColour(const std::array<double, 3>& c) {
  return std::all_of(c.begin(), c.end(), [](double v) { return v >= 0 && v <= 1; });
}

struct Fits {
  bool operator()(const SolidFill& f) const { return isColour(f.colour); }
  bool operator()(const GradientFill& f) const {
    double before = -1;
    for (const GradientFill::Stop& s : f.stops) {
      if (!(s.at > before && s.at >= 0 && s.at <= 1 && s.coverage >= 0 && s.coverage <= 1) || !isColour(s.colour)) return false;
      before = s.at;
    }
    const auto near = [](base::Point p) { return p.x > -1e7 && p.x < 1e7 && p.y > -1e7 && p.y < 1e7; };
    return f.stops.size() >= 2 && f.stops.size() <= 12 && near(f.from) && near(f.to);
  }
  bool operator()(const NoiseFill& f) const {
    return f.sizePx >= 1 && f.sizePx <= 4000 && f.octaves >= 1 && f.octaves <= 8 && isColour(f.dark) && isColour(f.light);
  }
};

struct FillToJson {
  Json operator()(const SolidFill& f) const { return {{"solid", {{"colour", f.colour}}}}; }
  Json operator()(const GradientFill& f) const {
    Json stops = Json::array();
    for (const auto& s : f.stops) stops.push_back({{"at", s.at}, {"colour", s.colour}, {"coverage", s.coverage}});
    return {
        {"gradient",
         {{"form", kFormNames[std::size_t(f.form)]}, {"from", pointJson(f.from)}, {"to", pointJson(f.to)}, {"stops", stops}}}};
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
  f.form = GradientFill::Form(indexIn(kFormNames, g.at("form").get<std::string>()));
  f.from = pointFrom(g.at("from"));
  f.to = pointFrom(g.at("to"));
  f.stops.clear();
  for (const Json& s : g.at("stops"))
    f.stops.push_back({s.at("at").get<double>(), s.at("colour").get<Colour3>(), s.at("coverage").get<double>()});
  return f;
}

}  // namespace

const char* fillName(const Fill& fill) {
  static constexpr const char* kNames[] = {"colour", "gradient", "noise"};
  return kNames[fill.index()];
}

base::Status validFill(const FillContent& f) {
  const auto wrong = [&](const char* what) { return base::Error{base::Code::invalid, fillName(f.fill), what}; };
  if (!std::visit(Fits{}, f.fill)) return wrong("one of its values is out of range");
  if (f.lettering) {
    if (const auto ok = text::valid(*f.lettering); !ok.ok()) return ok.error();
  }
  if (f.bend) {
    const base::Rect& box = f.bend->box;
    if (!f.lettering) return wrong("only words are bent");
    if (box.width < 1 || box.height < 1 || box.width > 1000000 || box.height > 1000000) return wrong("its bend is out of range");
    if (const auto ok = validWarp(f.bend->warp, {box.width, box.height}); !ok.ok()) return ok.error();
  }
  if (f.stroke && (path::fault(f.stroke->along) || !path::fits(f.stroke->style))) return wrong("its stroke is out of range");
  return {};
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

const FillContent& fillContentOf(const Layer& l) {
  return *l.fill();
}

base::Rect fillBounds(const Scene& scene, const Layer& l) {
  if (l.mask.enabled && l.mask.pathActs && l.mask.path && l.mask.numbers.neutral()) return path::boundsOf(*l.mask.path).grown(2);
  return base::Rect::of(scene.canvas);
}

// Straight lines of words that are turned go on along a line of their own.
std::shared_ptr<const text::Lettering> followedWords(text::Lettering t, const base::Affine& m) {
  using Align = text::Lettering::Align;
  t.sizePx = std::clamp(t.sizePx * m.scale(), 2.0, 8000.0);
  t.at = m.map(t.at);
  if (t.along) {
    t.along = std::make_shared<const path::Path>(path::mapped(*t.along, m));
  } else if (std::abs(m.turnDeg()) > 1e-9) {
    const double turn = m.turnDeg() * M_PI / 180, before = t.align == Align::left ? 0 : (t.align == Align::centre ? 0.5 : 1);
    const auto at = [&](double s) {
      return path::corner({t.at.x + s * t.sizePx * std::cos(turn), t.at.y + s * t.sizePx * std::sin(turn)});
    };
    t.along = std::make_shared<const path::Path>(path::Path{{{{at(-before), at(1 - before)}, false, path::Joins::add}}});
  }
  return std::make_shared<const text::Lettering>(std::move(t));
}

bool turnsOrMirrors(const base::Affine& m) {
  return std::abs(m.b) + std::abs(m.c) > 1e-9 || m.a < 0 || m.d < 0;
}

// Bent words. Where the canvas turns, they stay upright about the same middle and their corners turn, so that they can be changed
// and bent further as they were.
void followBentWords(FillContent& fill, const base::Affine& m) {
  const Bend& bend = *fill.bend;
  const bool turned = turnsOrMirrors(m);
  base::Affine upright = m;
  if (turned) {
    const base::Point middle{bend.box.x + bend.box.width / 2.0, bend.box.y + bend.box.height / 2.0}, to = m.map(middle);
    const double k = m.scale();
    upright = {k, 0, 0, k, to.x - k * middle.x, to.y - k * middle.y};
  }
  const base::Rect box = base::boundsOf(upright, bend.box);
  const base::Affine grow{double(box.width) / bend.box.width, 0, 0, double(box.height) / bend.box.height, 0, 0};
  Warp warp = scaled(bend.warp, grow);
  if (turned) {
    const double w = bend.box.width, h = bend.box.height;
    warp.corners = bend.warp.corners.empty() ? std::vector<base::Point>{{0, 0}, {w, 0}, {w, h}, {0, h}} : bend.warp.corners;
    for (base::Point& c : warp.corners) {
      const base::Point p = m.map({bend.box.x + c.x, bend.box.y + c.y});
      c = {p.x - box.x, p.y - box.y};
    }
  }
  fill.lettering = followedWords(*fill.lettering, upright);
  fill.bend = std::make_shared<const Bend>(Bend{box, std::move(warp)});
}

// A fill with its gradient, its stroke and the mask that gives it its shape.
base::Result<std::vector<AnyEdit>> fillWithCanvas(const Layer& l, const CanvasMap& map) {
  const double k = map.toNew.scale();
  SetFill out{l.id, fillContentOf(l), l.mask};
  if (auto* g = std::get_if<GradientFill>(&out.fill.fill)) g->from = map.toNew.map(g->from), g->to = map.toNew.map(g->to);
  if (auto* n = std::get_if<NoiseFill>(&out.fill.fill)) n->sizePx = std::clamp(n->sizePx * k, 1.0, 4000.0);
  Mask& mask = out.mask;
  mask.numbers = mapped(mask.numbers, map.toNew);
  if (out.fill.lettering && out.fill.bend) {
    followBentWords(out.fill, map.toNew);
  } else if (out.fill.lettering) {
    out.fill.lettering = followedWords(*out.fill.lettering, map.toNew);
  }
  if (mask.path) mask.path = std::make_shared<const path::Path>(path::mapped(*mask.path, map.toNew));
  if (out.fill.stroke) {
    Stroke stroke{path::mapped(out.fill.stroke->along, map.toNew), out.fill.stroke->style};
    for (double path::StrokeStyle::*length : {&path::StrokeStyle::widthPx, &path::StrokeStyle::dashPx, &path::StrokeStyle::gapPx})
      stroke.style.*length *= k;
    if (path::fits(stroke.style)) {
      mask.path = std::make_shared<const path::Path>(path::strokeOutline(stroke.along, stroke.style));
      out.fill.stroke = std::make_shared<const Stroke>(std::move(stroke));
    }
  }
  if (!mask.coverage.isNull()) {
    const auto memory = mask.coverage.memory();
    image::TiledImage byHand = mask.byHand();
    if (!byHand.isNull()) {
      HSEAM_TRY(byHand, map.resampled(byHand, false));
    }
    mask.pathArea = {};
    HSEAM_TRY(mask, boundedMask(mask, byHand, mask.pathActs, map.after, memory));
  }
  return std::vector<AnyEdit>{{Edit(std::move(out))}};
}

// What makes the mask's path (stroke, lettering, bend) shows in the mask.
bool fillLooksSame(const Layer& a, const Layer& b) {
  return fillContentOf(a).fill == fillContentOf(b).fill;
}

}  // namespace

const ContentKind FillContent::kKind{
    .key = "fill",
    .casts = true,
    .valid = [](const Scene&, const Layer& l) { return validFill(fillContentOf(l)); },
    .bounds = fillBounds,
    .grid = [](const Layer&) -> std::optional<PixelGrid> { return std::nullopt; },
    .looksSame = fillLooksSame,
    .forEachImage = [](const Layer&, const auto&) {},
    .follows = [](const Layer&) { return LayerId{}; },
    .copied = [](Layer&, const auto&, base::Size) {},
    .write = [](const Layer& l, const RecordOut&, Json& j) { j["fill"] = toJson(fillContentOf(l)); },
    .read = [](const Json& j, const RecordIn&, Layer& l) -> base::Status {
      HSEAM_TRY(l.content, fillFromJson(j.at("fill")));
      return {};
    },
    .withCanvas = fillWithCanvas};

}  // namespace hseam::scene
