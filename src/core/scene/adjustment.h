#pragma once
// What an adjustment layer does to the encoded straight colours below it. semantics.md states each formula.

#include <array>
#include <variant>

#include "core/base/error.h"
#include "core/scene/curve.h"

namespace hseam::scene {

struct Curves {
  CurvePoints rgb, red, green, blue;  // rgb first, then the channel's own; empty = no change
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
  Tint darks, mids, lights;
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

using Adjustment = std::variant<Curves, Levels, ColourBalance, Exposure, Saturation>;

/// "curves", "levels", "colour balance", "exposure", "saturation"
const char* adjustmentName(const Adjustment& adjustment);
base::Status validAdjustment(const Adjustment& adjustment);
/// True if each channel's result depends on that channel alone.
bool actsByChannel(const Adjustment& adjustment);

/// One pixel, straight and encoded, 0..1; the definition that renderers follow. Make it once, use it for many pixels.
class AdjustmentFunction {
 public:
  explicit AdjustmentFunction(const Adjustment& adjustment);
  std::array<double, 3> operator()(const std::array<double, 3>& rgb) const;

 private:
  Adjustment adjustment_;
  std::array<MonotoneCurve, 4> curves_;
};

/// W3C Compositing Level 1, 10.2: luma of encoded values, and clipping to 0..1 that keeps it.
double luma(const std::array<double, 3>& rgb);
std::array<double, 3> clippedToGamut(std::array<double, 3> rgb);

}  // namespace hseam::scene
