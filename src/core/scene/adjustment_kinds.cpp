#include "core/scene/adjustment_kinds.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {
namespace {

using Field = AdjustmentField;
using Kind = AdjustmentKind;
using Acts = Kind::Acts;
using Shelf = Kind::Shelf;

constexpr double kGaussianReach = 3;  // standard deviations
constexpr double kDeblurReach = 9;    // likewise: the inverse's six, and three for what is not covered

Field percent(const char* key, const char* name, const char* tip, double low, double high, double initial,
              const char* section = "") {
  return {key, name, "%", tip, low, high, initial, 100, 0, section};
}
Field degrees(const char* key, const char* name, const char* tip, double low, double high, const char* section = "") {
  return {key, name, "°", tip, low, high, 0, 1, 0, section};
}
Field pixels(const char* key, const char* name, const char* tip, double low, double high, double initial) {
  return {key, name, "px", tip, low, high, initial, 1, 1, ""};
}

// One field of six hues, as a tack on the ring of hues.
Field aboutHue(Field field, double hue, const char* amount) {
  field.hue = hue;
  field.amount = amount;
  return field;
}

std::vector<Field> hueFields() {
  static constexpr struct {
    const char *section, *hue, *saturation, *lightness;
    double at;
  } kBands[] = {{"all", "hue", "saturation", "lightness", -1},
                {"reds", "redsHue", "redsSaturation", "redsLightness", 0},
                {"yellows", "yellowsHue", "yellowsSaturation", "yellowsLightness", 60},
                {"greens", "greensHue", "greensSaturation", "greensLightness", 120},
                {"cyans", "cyansHue", "cyansSaturation", "cyansLightness", 180},
                {"blues", "bluesHue", "bluesSaturation", "bluesLightness", 240},
                {"magentas", "magentasHue", "magentasSaturation", "magentasLightness", 300}};
  std::vector<Field> all;
  for (const auto& b : kBands) {
    all.push_back(
        aboutHue(degrees(b.hue, "turn", "Turns these colours round the ring of hues", -180, 180, b.section), b.at, "turn"));
    all.push_back(aboutHue(percent(b.saturation, "strength", "-100 % is grey", -1, 1, 0, b.section), b.at, "strength"));
    all.push_back(aboutHue(percent(b.lightness, "lightness", "Towards black or white", -1, 1, 0, b.section), b.at, "lightness"));
  }
  return all;
}

std::vector<Field> greyFields() {
  static constexpr struct {
    const char *key, *tip;
    double at, initial;
  } kBands[] = {{"reds", "How light pure red becomes", 0, 0.30},       {"yellows", "How light pure yellow becomes", 60, 0.89},
                {"greens", "How light pure green becomes", 120, 0.59}, {"cyans", "How light pure cyan becomes", 180, 0.70},
                {"blues", "How light pure blue becomes", 240, 0.11},   {"magentas", "How light pure magenta becomes", 300, 0.41}};
  std::vector<Field> all;
  for (const auto& b : kBands) all.push_back(aboutHue(percent(b.key, b.key, b.tip, -1, 2, b.initial), b.at, "lightness"));
  return all;
}

std::vector<Field> cdlFields() {
  std::vector<Field> all;
  static constexpr struct {
    const char *section, *slope, *offset, *power;
  } kChannels[] = {{"red", "slopeRed", "offsetRed", "powerRed"},
                   {"green", "slopeGreen", "offsetGreen", "powerGreen"},
                   {"blue", "slopeBlue", "offsetBlue", "powerBlue"}};
  for (const auto& c : kChannels) {
    all.push_back({c.slope, "slope", "", "Times this: highlights more than shadows", 0, 4, 1, 1, 2, c.section});
    all.push_back({c.offset, "offset", "", "Plus this: everything alike", -1, 1, 0, 1, 3, c.section});
    all.push_back({c.power, "power", "", "To this power: below 1 lightens the middle", 0.1, 4, 1, 1, 2, c.section});
  }
  all.push_back({"saturation", "saturation", "", "After the three steps", 0, 4, 1, 1, 2, "saturation"});
  return all;
}

double bySigma(const std::vector<double>& v) {
  return kGaussianReach * v[0];
}
double byDeblur(const std::vector<double>& v) {
  return kDeblurReach * v[0] + 2;
}
double byRadius(const std::vector<double>& v) {
  return v[0] + 1;
}
double byTwice(const std::vector<double>& v) {
  return 2 * v[0] + 2;
}
double byTwiceTheLargest(const std::vector<double>& v) {
  return 2 * v[1] + 2;
}

std::vector<Kind> tonesShelf() {
  return {
      {AdjustmentId::brightness,
       "brightness",
       "lift and spread",
       "Everything lighter or darker, tones further apart or closer",
       Shelf::tones,
       Acts::byChannel,
       false,
       {percent("brightness", "lift", "Half of it is added to every tone", -1, 1, 0),
        percent("contrast", "spread", "Tones move away from the middle, or towards it", -1, 1, 0)}},
      {AdjustmentId::slope, "slope", "slope, offset, power",
       "The film industry's three numbers a channel (ASC CDL), and saturation", Shelf::tones, Acts::byPixel, false, cdlFields()},
      {AdjustmentId::recover,
       "recover",
       "highlights and shadows",
       "Brings back what highlights and shadows hold, each by its surroundings",
       Shelf::tones,
       Acts::around,
       false,
       {pixels("radius", "size", "Of what counts as one light or dark area", 2, 200, 40),
        percent("lights", "highlights", "Above 0 bright areas come down, below 0 they go up", -1, 1, 0),
        percent("darks", "shadows", "Above 0 dark areas come up, below 0 they go down", -1, 1, 0)},
       byTwice},
      {AdjustmentId::local,
       "local",
       "local contrast",
       "Tones against their surroundings",
       Shelf::tones,
       Acts::around,
       false,
       {pixels("radius", "size", "Of the surroundings", 2, 200, 40), percent("amount", "amount", "Below 0 flattens", -1, 2, 0.3)},
       byTwice},
  };
}

std::vector<Kind> coloursShelf() {
  return {
      {AdjustmentId::hues, "hues", "hues", "Turned, stronger, lighter: each hue by itself, or all of them", Shelf::colours,
       Acts::byPixel, false, hueFields()},
      {AdjustmentId::vivid,
       "vivid",
       "saturation, sparing vivid colours",
       "Pale colours gain or lose more than vivid ones",
       Shelf::colours,
       Acts::byPixel,
       false,
       {percent("amount", "amount", "Full for greyish colours, nothing for pure ones", -1, 1, 0)}},
      {AdjustmentId::warmth,
       "warmth",
       "warmth",
       "Light of another colour temperature",
       Shelf::colours,
       Acts::byPixel,
       false,
       {{"mired", "warmer", "mired", "Above 0 warmer, below 0 cooler; as gels for lamps are numbered", -110, 200, 0, 1, 0, ""},
        percent("tint", "towards magenta", "Below 0 towards green", -1, 1, 0)}},
      {AdjustmentId::gel,
       "gel",
       "gel",
       "Light through a coloured sheet",
       Shelf::colours,
       Acts::byPixel,
       false,
       {percent("red", "red", "What the sheet lets through", 0, 1, 1),
        percent("green", "green", "What the sheet lets through", 0, 1, 0.75),
        percent("blue", "blue", "What the sheet lets through", 0, 1, 0.4),
        percent("strength", "strength", "How thick the sheet is", 0, 1, 0.5),
        percent("keep", "keep lightness", "100 %: the light lost is given back", 0, 1, 1)}},
      {AdjustmentId::twoTones,
       "twoTones",
       "tint shadows and highlights",
       "One hue for the shadows, one for the highlights",
       Shelf::colours,
       Acts::byPixel,
       false,
       {degrees("darksHue", "shadows' hue", "0 red, 120 green, 240 blue", 0, 360),
        percent("darks", "shadows", "How much", 0, 1, 0),
        degrees("lightsHue", "highlights' hue", "0 red, 120 green, 240 blue", 0, 360),
        percent("lights", "highlights", "How much", 0, 1, 0),
        percent("balance", "balance", "Above 0 more tones count as highlights", -1, 1, 0)}},
      {AdjustmentId::grey, "grey", "grey from colours", "How light each colour becomes in grey", Shelf::colours, Acts::byPixel,
       false, greyFields()},
      {AdjustmentId::posterise,
       "posterise",
       "few tones",
       "Each channel in steps",
       Shelf::colours,
       Acts::byPixel,
       false,
       {{"steps", "steps", "", "Of each channel", 2, 64, 6, 1, 0, ""}}},
  };
}

std::vector<Kind> blurs() {
  return {
      {AdjustmentId::gaussian,
       "gaussian",
       "soft blur",
       "An even blur, coverage included",
       Shelf::focus,
       Acts::around,
       true,
       {pixels("sigma", "spread", "Standard deviation; seen as about twice as wide", 0, 150, 4)},
       bySigma},
      {AdjustmentId::defocus,
       "defocus",
       "out of focus",
       "Blur as a lens gives it: lights become discs",
       Shelf::focus,
       Acts::around,
       true,
       {pixels("radius", "radius", "Of the disc that a point becomes", 0, 100, 12),
        {"blades", "blades", "", "0: a round opening; else a polygon with as many sides", 0, 9, 0, 1, 0, ""},
        degrees("turn", "turn", "Of the polygon", 0, 90),
        percent("glow", "clipped lights", "Gives blown lights back what the camera cut off, so that their discs stay bright", 0,
                1, 0.3),
        percent("sharpX", "sharp at, across", "The blur grows from here, as with depth; draw the line on the picture", -1, 2, 0,
                "ramp"),
        percent("sharpY", "sharp at, down", "The blur grows from here", -1, 2, 0, "ramp"),
        percent("fullX", "full at, across", "From here on it is full; both at one place: full everywhere", -1, 2, 0, "ramp"),
        percent("fullY", "full at, down", "From here on it is full", -1, 2, 0, "ramp")},
       byRadius},
      {AdjustmentId::motion,
       "motion",
       "motion blur",
       "Along a line, coverage included",
       Shelf::focus,
       Acts::around,
       true,
       {pixels("length", "length", "Of the way during the exposure", 0, 300, 20),
        degrees("angle", "direction", "0 is to the right, 90 down", 0, 180)},
       [](const std::vector<double>& v) { return v[0] / 2 + 2; }},
  };
}

std::vector<Kind> details() {
  return {
      {AdjustmentId::sharpen,
       "sharpen",
       "sharpen",
       "Edges against their surroundings, in lightness",
       Shelf::focus,
       Acts::around,
       false,
       {pixels("sigma", "spread", "About the blur to be undone", 0.3, 20, 1),
        percent("amount", "amount", "100 %: the difference to the blurred picture once more", 0, 5, 1),
        percent("threshold", "grain spared", "Smaller differences are left alone", 0, 0.2, 0.01)},
       bySigma},
      {AdjustmentId::deblur,
       "deblur",
       "undo blur",
       "Turns a known blur back, in lightness: missed focus, enlargement",
       Shelf::focus,
       Acts::around,
       false,
       {pixels("sigma", "blur", "Standard deviation of the blur to be undone", 0.3, 8, 1.5),
        percent("held", "grain held", "The more, the less grain and rings come up, and the softer it stays", 0.001, 0.3, 0.01)},
       byDeblur},
      {AdjustmentId::denoise,
       "denoise",
       "noise reduction",
       "Evens out grain, keeps edges",
       Shelf::focus,
       Acts::around,
       false,
       {pixels("radius", "size", "Of what is evened out", 1, 12, 3),
        percent("lightness", "lightness", "Differences up to about this are evened out", 0, 0.3, 0.04),
        percent("colour", "colour", "The same in colour", 0, 0.5, 0.1)},
       byTwice},
      {AdjustmentId::even,
       "even",
       "even out blotches",
       "Spots of tone and colour go, pores and weave stay; paint its mask over what is blotchy",
       Shelf::focus,
       Acts::around,
       false,
       {pixels("finest", "keeps up to", "Whatever is smaller stays as it is: pores, weave, grain", 1, 60, 5),
        pixels("largest", "evens up to", "Whatever is larger stays as it is: the form, its light and shade", 4, 200, 60),
        percent("amount", "amount", "Of the blotches taken away", 0, 1, 0.7),
        percent("edges", "edges from", "Steps of this much are edges, and stay", 0.02, 0.5, 0.15)},
       byTwiceTheLargest},
      {AdjustmentId::grain,
       "grain",
       "grain",
       "The scene's grain, seeded",
       Shelf::focus,
       Acts::byPlace,
       false,
       {percent("darks", "in shadows", "Standard deviation, of the whole range", 0, 0.2, 0.02),
        percent("mids", "in midtones", "Standard deviation, of the whole range", 0, 0.2, 0.02),
        percent("lights", "in highlights", "Standard deviation, of the whole range", 0, 0.2, 0.01),
        pixels("size", "size", "Of a grain", 1, 8, 1),
        percent("colour", "colour", "0: grey grain, 100 %: each channel its own", 0, 1, 0.3),
        {"seed", "seed", "", "Another number, another grain", 0, 9999, 1, 1, 0, ""}}},
  };
}

std::vector<Kind> airShelf() {
  return {
      {AdjustmentId::corners,
       "corners",
       "corner darkening",
       "Light falls off towards the corners",
       Shelf::air,
       Acts::byPlace,
       false,
       {percent("amount", "amount", "Of light lost in the corners; below 0 gained", -1, 1, 0.4),
        percent("begins", "begins", "How far from the middle, of the way to a corner", 0, 0.95, 0.3)}},
      {AdjustmentId::haze,
       "haze",
       "haze by depth",
       "Air between the eye and the distance",
       Shelf::air,
       Acts::byPlace,
       false,
       {percent("near", "near edge", "Height in the picture where haze begins, from above", 0, 1, 0.9),
        percent("far", "far edge", "Height in the picture where it is full", 0, 1, 0.35),
        percent("density", "density", "Where it is full", 0, 1, 0.4), percent("red", "red", "Of the air's colour", 0, 1, 0.62),
        percent("green", "green", "Of the air's colour", 0, 1, 0.66),
        percent("blue", "blue", "Of the air's colour", 0, 1, 0.74)}},
      {AdjustmentId::flare,
       "flare",
       "flare",
       "A lamp in the scene spreads light over the lens",
       Shelf::air,
       Acts::byPlace,
       false,
       {percent("x", "across", "Where the lamp is, from the left", 0, 1, 0.5),
        percent("y", "down", "Where the lamp is, from above", 0, 1, 0.3),
        percent("size", "size", "Of its glow, of the picture's width", 0.01, 1, 0.2),
        percent("strength", "strength", "Of the light added", 0, 2, 0.5),
        percent("streaks", "streaks", "Rays of the opening", 0, 1, 0.2), percent("red", "red", "Of its light", 0, 1, 1),
        percent("green", "green", "Of its light", 0, 1, 0.8), percent("blue", "blue", "Of its light", 0, 1, 0.5)}},
      {AdjustmentId::wrap,
       "wrap",
       "light wrap",
       "Light from behind spills over the edge; confine it to the subject",
       Shelf::air,
       Acts::behind,
       false,
       {pixels("width", "width", "How far light reaches over the edge", 0.5, 100, 8),
        percent("strength", "strength", "Of the light behind", 0, 2, 0.5)},
       [](const std::vector<double>& v) { return 2 * v[0] + 1; }},
  };
}

std::vector<Kind> table() {
  std::vector<Kind> all;
  for (const auto& shelf : {tonesShelf(), coloursShelf(), blurs(), details(), airShelf()})
    all.insert(all.end(), shelf.begin(), shelf.end());
  for (std::size_t i = 0; i < all.size(); ++i) CORE_CHECK(std::size_t(all[i].id) == i);
  return all;
}

}  // namespace

const std::vector<AdjustmentKind>& adjustmentKinds() {
  static const std::vector<AdjustmentKind> all = table();
  return all;
}

std::optional<AdjustmentId> adjustmentNamed(const std::string& key) {
  const auto& all = adjustmentKinds();
  const auto at = std::find_if(all.begin(), all.end(), [&](const Kind& k) { return key == k.key; });
  return at == all.end() ? std::nullopt : std::optional(at->id);
}

}  // namespace hseam::scene
