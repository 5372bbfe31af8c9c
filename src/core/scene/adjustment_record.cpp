#include "core/scene/adjustment_record.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace hseam::scene {

using Json = nlohmann::json;

namespace {

Json tintJson(const Tint& t) {
  return {t.x, t.y};
}
Tint tintFrom(const Json& j) {
  return {j.at(0).get<double>(), j.at(1).get<double>()};
}

}  // namespace

Json toJson(const Adjustment& a) {
  if (const auto* c = std::get_if<Curves>(&a))
    return {{"curves", {{"rgb", c->rgb}, {"red", c->red}, {"green", c->green}, {"blue", c->blue}, {"lightness", c->lightness}}}};
  if (const auto* l = std::get_if<Levels>(&a)) {
    return {{"levels",
             {{"black", l->black},
              {"white", l->white},
              {"middle", l->middle},
              {"outBlack", l->outBlack},
              {"outWhite", l->outWhite}}}};
  }
  if (const auto* e = std::get_if<Exposure>(&a)) return {{"exposure", {{"stops", e->stops}}}};
  if (const auto* s = std::get_if<Saturation>(&a)) return {{"saturation", {{"amount", s->amount}}}};
  if (const auto* n = std::get_if<ParametricAdjustment>(&a)) {
    Json values = Json::object();
    for (std::size_t i = 0; i < n->values.size(); ++i) {
      if (n->values[i] != n->of().fields[i].initial) values[n->of().fields[i].key] = n->values[i];
    }
    return {{n->of().key, values}};
  }
  if (const auto* t = std::get_if<TonesToColours>(&a)) {
    Json stops = Json::array();
    for (const TonesToColours::Stop& s : t->stops) stops.push_back({{"at", s.at}, {"colour", s.colour}});
    return {{"tonesToColours", {{"stops", stops}}}};
  }
  if (const auto* l = std::get_if<TableLookup>(&a)) return {{"colourTable", {{"cube", cubeFrom(*l->table)}}}};
  const auto& b = std::get<ColourBalance>(a);
  return {{"balance", {{"darks", tintJson(b.shadows)}, {"mids", tintJson(b.midtones)}, {"lights", tintJson(b.highlights)}}}};
}

base::Result<Adjustment> adjustmentFromJson(const Json& j) {
  if (j.contains("curves")) {
    const Json& c = j.at("curves");
    return Adjustment(Curves{c.value("rgb", CurvePoints{}), c.value("red", CurvePoints{}), c.value("green", CurvePoints{}),
                             c.value("blue", CurvePoints{}), c.value("lightness", CurvePoints{})});
  }
  if (j.contains("levels")) {
    const Json& l = j.at("levels");
    return Adjustment(Levels{l.value("black", 0.0), l.value("white", 1.0), l.value("middle", 1.0), l.value("outBlack", 0.0),
                             l.value("outWhite", 1.0)});
  }
  if (j.contains("exposure")) return Adjustment(Exposure{j.at("exposure").value("stops", 0.0)});
  if (j.contains("saturation")) return Adjustment(Saturation{j.at("saturation").value("amount", 0.0)});
  for (const auto& [key, value] : j.items()) {
    const auto id = adjustmentNamed(key);
    if (!id) continue;
    ParametricAdjustment n = parametric(*id);
    for (const auto& [field, number] : value.items()) {
      const auto& fields = n.of().fields;
      const auto at =
          std::find_if(fields.begin(), fields.end(), [&name = field](const AdjustmentField& f) { return name == f.key; });
      if (at == fields.end()) return base::Error{base::Code::invalid, key, "\"" + field + "\" is not a value of this adjustment"};
      n.values[std::size_t(at - fields.begin())] = number.get<double>();
    }
    return Adjustment(std::move(n));
  }
  if (j.contains("tonesToColours")) {
    TonesToColours t{{}};
    for (const Json& s : j.at("tonesToColours").at("stops"))
      t.stops.push_back({s.at("at").get<double>(), s.at("colour").get<std::array<double, 3>>()});
    return Adjustment(std::move(t));
  }
  if (j.contains("colourTable")) {
    HSEAM_TRY(ColourTable table, colourTableFromCube(j.at("colourTable").at("cube").get<std::string>()));
    return Adjustment(TableLookup{std::make_shared<const ColourTable>(std::move(table))});
  }
  const Json& b = j.at("balance");
  const Json none = {0, 0};
  return Adjustment(
      ColourBalance{tintFrom(b.value("darks", none)), tintFrom(b.value("mids", none)), tintFrom(b.value("lights", none))});
}

}  // namespace hseam::scene
