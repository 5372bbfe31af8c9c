#pragma once
// What an adjustment layer does to the encoded straight colours below it. semantics.md states each formula.

#include <array>
#include <functional>
#include <memory>
#include <variant>

#include "core/base/error.h"
#include "core/scene/adjustment_kinds.h"
#include "core/scene/colour_table.h"
#include "core/scene/curve.h"

namespace hseam::scene {

struct Curves {
  CurvePoints rgb, red, green, blue;  // rgb first, then the channel's own; empty = no change
  CurvePoints lightness = {};         // then CIE L* / 100, hue and chroma ratios kept in light
  friend bool operator==(const Curves&, const Curves&) = default;
};

/// out = outBlack + (outWhite − outBlack) · clamp((in − black) / (white − black))^(1 / middle)
struct Levels {
  double black = 0, white = 1;  // 0 ≤ black < white ≤ 1
  double middle = 1;            // 0.1..10; above 1 lightens
  double outBlack = 0, outWhite = 1;
  friend bool operator==(const Levels&, const Levels&) = default;
};

/// A shift on a plane across which lightness stays: x towards red (−: green), y towards yellow (−: blue), each −1..1.
struct Tint {
  double x = 0, y = 0;
  friend bool operator==(const Tint&, const Tint&) = default;
};
struct ColourBalance {
  Tint shadows, midtones, highlights;
  friend bool operator==(const ColourBalance&, const ColourBalance&) = default;
};

/// Light times 2^stops.
struct Exposure {
  double stops = 0;  // −10..10
  friend bool operator==(const Exposure&, const Exposure&) = default;
};

/// Distance of a colour from the grey of its luma, times 1 + amount.
struct Saturation {
  double amount = 0;  // −1 (grey) .. 2
  friend bool operator==(const Saturation&, const Saturation&) = default;
};

/// Each tone (luma) becomes the colour that lies there between the stops, straight lines in encoded values.
struct TonesToColours {
  struct Stop {
    double at = 0;  // 0..1, rising
    std::array<double, 3> colour{};
    friend bool operator==(const Stop&, const Stop&) = default;
  };
  std::vector<Stop> stops{{0, {0, 0, 0}}, {1, {1, 1, 1}}};  // 2..7
  friend bool operator==(const TonesToColours&, const TonesToColours&) = default;
};

/// A table of colours by colour, read from a .cube file; shared, never changed.
struct TableLookup {
  std::shared_ptr<const ColourTable> table;
  friend bool operator==(const TableLookup&, const TableLookup&) = default;
};

using Adjustment =
    std::variant<Curves, Levels, ColourBalance, Exposure, Saturation, ParametricAdjustment, TonesToColours, TableLookup>;

/// "curves", "levels", "colour balance", "exposure", "saturation", the kind's name, "tones to colours", "colour table"
const char* adjustmentName(const Adjustment& adjustment);
base::Status validAdjustment(const Adjustment& adjustment);
/// True if each channel's result depends on that channel alone.
bool actsByChannel(const Adjustment& adjustment);
/// True if a pixel's result depends on more than its own colour: AdjustmentFunction does not hold it.
bool looksAround(const Adjustment& adjustment);
/// How far, scene px.
double reachOf(const Adjustment& adjustment);

/// One pixel, straight and encoded, 0..1; the definition that renderers follow. Make it once, use it for many pixels. What looks
/// around (looksAround) leaves the pixel as it is.
class AdjustmentFunction {
 public:
  explicit AdjustmentFunction(const Adjustment& adjustment);
  std::array<double, 3> operator()(const std::array<double, 3>& rgb) const;

 private:
  Adjustment adjustment_;
  std::array<MonotoneCurve, 5> curves_;
  std::function<void(double*)> pixel_;
};

std::array<double, 3> colourOfTone(const TonesToColours& colours, double tone);
/// CIE L* / 100 of a luminance 0..1, and back.
double lightnessOfLuminance(double y);
double luminanceOfLightness(double l);

/// W3C Compositing Level 1, 10.2: luma of encoded values, and clipping to 0..1 that keeps it.
double luma(const std::array<double, 3>& rgb);
std::array<double, 3> clippedToGamut(std::array<double, 3> rgb);

}  // namespace hseam::scene
