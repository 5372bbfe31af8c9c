#pragma once
// The light of the place that everything is set into, as one shadow in its picture tells it.

#include <optional>

#include "core/scene/content/light.h"
#include "core/scene/floor.h"

namespace hseam::scene {

/// Something upright that stands on the floor of the picture, and its shadow there; scene px.
struct SeenShadow {
  base::Point foot, top;  // of what casts it
  base::Point tip;        // the shadow of the top
  friend bool operator==(const SeenShadow&, const SeenShadow&) = default;
};

struct PlaceLight {
  /// False: nothing in the place casts a shadow, as under an overcast sky; all below says nothing then.
  bool casts = true;
  /// Where it was read from; empty: it was set by numbers.
  std::optional<SeenShadow> seen = {};
  /// Direction where nothing was drawn; its size always.
  LightFrom from = {};
  double density = 1;                // of its shadows, 0..1
  Colour3 colour{0.35, 0.36, 0.42};  // encoded: what full shadow leaves of white
  friend bool operator==(const PlaceLight&, const PlaceLight&) = default;
};

/// Direction of a light that is far away, from a shadow on the floor; its size is left at the usual one. Nothing: a foot or tip
/// at or above the horizon, a tip on the foot, or a top that is not above it.
std::optional<LightFrom> lightFromShadow(const SeenShadow& seen, const FloorCamera& camera);
/// The top that would cast the same foot's shadow to this tip under a light that stands so high above the floor, degrees, 1..90.
std::optional<base::Point> topUnder(base::Point foot, base::Point tip, double elevationDeg, const FloorCamera& camera);
/// Errors: invalid.
base::Status validPlaceLight(const PlaceLight& light);

}  // namespace hseam::scene
