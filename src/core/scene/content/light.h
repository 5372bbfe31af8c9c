#pragma once
// Layers that are computed from another layer's shape: shadows on the floor, shading, lit edges. They follow the caster when it
// changes. semantics.md defines how each looks.

#include <array>
#include <nlohmann/json_fwd.hpp>
#include <variant>
#include <vector>

#include "core/base/error.h"
#include "core/base/geometry.h"
#include "core/scene/layer_id.h"

namespace hseam::scene {

/// Where light comes from, as seen by the camera.
struct LightFrom {
  double azimuthDeg = -150;  // −180..180; 0: from behind the camera, 90: from the right, −90: from the left, 180: from ahead
  double elevationDeg = 38;  // 1..90 above the floor
  double sizeDeg = 2;        // 0..60, seen from the subject; the sun: 0.53
  friend bool operator==(const LightFrom&, const LightFrom&) = default;
};

using Colour3 = std::array<double, 3>;  // encoded, 0..1

/// Of an upright caster, on the floor and up a wall.
struct CastShadow {
  LightFrom light;
  base::Point foot;                  // caster's own px (ownToScene): where it stands
  double density = 0.75;             // 0..1, at the foot
  double fadeHeights = 6;            // 0.2..100: after so many heights of the caster one e-th is left
  Colour3 colour{0.16, 0.17, 0.22};  // of full shadow, to be multiplied
  double wallY = 0;                  // scene px where a wall that faces the camera meets the floor; 0: no wall
  friend bool operator==(const CastShadow&, const CastShadow&) = default;
};
/// Dark and tight, along a line where something touches.
struct ContactShadow {
  std::vector<base::Point> line;  // caster's own px
  double widthPx = 14;            // scene px, 0.5..400: from the line to half of the darkness
  double density = 0.8;           // 0..1
  double flatness = 0.35;         // 0.05..1: height to width on the floor; 1: a wall or cloth that faces the camera
  Colour3 colour{0.1, 0.1, 0.12};
  friend bool operator==(const ContactShadow&, const ContactShadow&) = default;
};
/// Light side and shadow side from the rounded form of the alpha.
struct Shading {
  LightFrom light;
  double roundPx = 60;   // 2..1000 scene px: how far in from the edge the form bends
  double lights = 0.35;  // 0..1
  double darks = 0.5;    // 0..1
  friend bool operator==(const Shading&, const Shading&) = default;
};
/// A rim of light, or the thickness of an opening: a band inside the edge, lit where it faces the light, dark where it does not.
struct EdgeLight {
  LightFrom light;
  double widthPx = 6;          // 0.5..400 scene px
  double softness = 1;         // 0..1: 0 a band of even strength, 1 fading inwards
  double lit = 0.8, dark = 0;  // 0..1: how strongly either side shows
  Colour3 litColour{1, 0.85, 0.6}, darkColour{0.1, 0.1, 0.12};
  friend bool operator==(const EdgeLight&, const EdgeLight&) = default;
};

using LightKind = std::variant<CastShadow, ContactShadow, Shading, EdgeLight>;

struct ContentKind;

struct LightContent {
  static const ContentKind kKind;
  LayerId caster;  // a picture, a group or a fill (casts)
  LightKind kind;
  friend bool operator==(const LightContent&, const LightContent&) = default;
};

/// "cast shadow", "contact shadow", "shading", "lit edge"
const char* lightName(const LightKind& kind);
base::Status validLight(const LightContent& light);

/// A direction alone. What reads throws nlohmann's exceptions where the form is wrong; ranges are not checked.
nlohmann::json toJson(const LightFrom& from);
LightFrom lightFromFromJson(const nlohmann::json& json);
/// {"caster": 3, "cast": {...}}. What reads throws nlohmann's exceptions where the form is wrong; ranges are not checked.
nlohmann::json toJson(const LightContent& light);
base::Result<LightContent> lightFromJson(const nlohmann::json& json);

}  // namespace hseam::scene
