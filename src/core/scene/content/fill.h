#pragma once
// Procedural layers: one colour, a gradient, noise. With a path as their mask they are shapes.

#include <array>
#include <cstdint>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/error.h"
#include "core/base/geometry.h"
#include "core/path/path.h"
#include "core/path/stroke_outline.h"
#include "core/scene/warp.h"
#include "core/text/lettering.h"

namespace hseam::scene {

struct SolidFill {
  std::array<double, 3> colour{0.5, 0.5, 0.5};  // encoded
  friend bool operator==(const SolidFill&, const SolidFill&) = default;
};
/// Colours and coverage along a line (or out from its beginning), straight lines in linear light between the stops.
struct GradientFill {
  enum class Form : std::uint8_t { along, round, mirrored };
  struct Stop {
    double at = 0;  // 0..1, rising
    std::array<double, 3> colour{};
    double coverage = 1;
    friend bool operator==(const Stop&, const Stop&) = default;
  };
  Form form = Form::along;
  base::Point from, to;                                           // scene px
  std::vector<Stop> stops{{0, {0, 0, 0}, 1}, {1, {1, 1, 1}, 1}};  // 2..12
  friend bool operator==(const GradientFill&, const GradientFill&) = default;
};
/// Value noise of several octaves (Perlin 1985 in its lattice form): clouds, dust, paper.
struct NoiseFill {
  double sizePx = 120;  // of the largest lumps, scene px, 1..4000
  int octaves = 4;      // 1..8, each half as large and half as strong
  std::uint32_t seed = 1;
  std::array<double, 3> dark{0.2, 0.2, 0.2}, light{0.8, 0.8, 0.8};
  friend bool operator==(const NoiseFill&, const NoiseFill&) = default;
};
using Fill = std::variant<SolidFill, GradientFill, NoiseFill>;

/// A line along a path; the layer's mask path is its outline.
struct Stroke {
  path::Path along;  // scene px
  path::StrokeStyle style;
};

/// A warp of words: as of a picture that fills their box.
struct Bend {
  base::Rect box;  // of the straight words, scene px
  Warp warp;       // px of the box
  friend bool operator==(const Bend&, const Bend&) = default;
};

struct ContentKind;

struct FillContent {
  static const ContentKind kKind;
  Fill fill;
  std::shared_ptr<const Stroke> stroke;  // null: the mask's path, if there is one, bounds the fill itself
  /// Words; the mask's path is their outline, kept with them, so that they show even where their typeface is missing.
  std::shared_ptr<const text::Lettering> lettering = nullptr;
  std::shared_ptr<const Bend> bend = nullptr;  // of the words; null: they are straight
};

/// "colour", "gradient", "noise"
const char* fillName(const Fill& fill);
base::Status validFill(const FillContent& fill);

/// fillFromJson throws nlohmann's exceptions on a wrong form; ranges are not checked. Errors: corrupt (impossible numbers in a
/// path).
nlohmann::json toJson(const FillContent& fill);
base::Result<FillContent> fillFromJson(const nlohmann::json& json);

}  // namespace hseam::scene
