#include "core/matte/cut_recipe.h"

#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"

namespace hseam::matte {

CutRecipe cutRecipeFrom(const std::string& text) {
  const auto j = nlohmann::json::parse(text, nullptr, false);
  CutRecipe out;
  if (!j.is_object()) return out;
  const auto number = [&](const char* key) -> std::optional<double> {
    const auto at = j.find(key);
    return at != j.end() && at->is_number() ? std::optional(at->get<double>()) : std::nullopt;
  };
  out.bandWidthPx = number("band_width_px");
  out.encodedShare = number("codes");
  const auto extends = j.find("extends");
  out.extends = extends != j.end() && extends->is_boolean() && extends->get<bool>();
  return out;
}

std::string toText(const CutRecipe& recipe) {
  nlohmann::json j = {{"version", 1}};
  if (recipe.extends) {
    j["extends"] = true;
  } else if (recipe.bandWidthPx) {
    j["band_width_px"] = std::lround(*recipe.bandWidthPx);
  } else {
    j["band"] = "found";
  }
  if (recipe.encodedShare) j["codes"] = *recipe.encodedShare;
  return base::jsonText(j);
}

}  // namespace hseam::matte
