#pragma once
// How a cut was made, kept with it (scene::Cutout::recipe) as a JSON object: {"version": 1, "band": "found", "band_width_px": 24,
// "codes": 0.3, "extends": true}; keys that do not apply are left out; unknown ones are ignored.

#include <optional>
#include <string>

namespace hseam::matte {

struct CutRecipe {
  std::optional<double> bandWidthPx = {};   // laid with one width; nothing: found
  std::optional<double> encodedShare = {};  // how the picture was mixed (Cut::encodedShare), once the edge is solved
  bool extends = false;                     // not a cut of its own: extends another layer's hair
};

/// An empty recipe if the text is not one.
CutRecipe cutRecipeFrom(const std::string& text);
std::string toText(const CutRecipe& recipe);

}  // namespace hseam::matte
