#pragma once
// The parametric parts of a mask: editable, without pixels, computed when rendered (semantics.md, 18).

#include <array>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/error.h"
#include "core/scene/content/fill.h"
#include "core/scene/content/light.h"
#include "core/scene/placement.h"

namespace hseam::scene {

/// 1 where the line begins, 0 where it ends (mirrored: 0 on both sides); px of the mask.
struct GradientPart {
  GradientFill::Form form = GradientFill::Form::along;
  base::Point from, to;
  friend bool operator==(const GradientPart&, const GradientPart&) = default;
};
/// 1 for tones (L* / 100) within low..high, falling to 0 over `softness` on either side.
struct TonesPart {
  double low = 0.6, high = 1, softness = 0.1;
  friend bool operator==(const TonesPart&, const TonesPart&) = default;
};
/// 1 for colours within `reach` of this one (CIE 1976 distance), falling to 0 over another `softness` of it.
struct ColourPart {
  std::array<double, 3> colour{0.5, 0.5, 0.5};  // encoded
  double reach = 20, softness = 15;             // 0..200
  friend bool operator==(const ColourPart&, const ColourPart&) = default;
};
/// The coverage of another layer as it shows in the scene.
struct LayerPart {
  LayerId layer;
  friend bool operator==(const LayerPart&, const LayerPart&) = default;
};

struct MaskPart {
  enum class Joins : std::uint8_t { within, also, without };  // times it, the larger of the two, times what it leaves
  std::variant<GradientPart, TonesPart, ColourPart, LayerPart> kind;
  Joins joins = Joins::within;
  bool inverted = false;
  double strength = 1;  // 0..1
  friend bool operator==(const MaskPart&, const MaskPart&) = default;
};

struct MaskNumbers {
  std::vector<MaskPart> parts;      // one after another; at most 16
  double lowest = 0;                // 0..1: what shows everywhere at least
  double softnessPx = 0;            // standard deviation, px of the mask, of what is painted or bounded by a path; 0..200
  std::optional<Placement> heldAt;  // where a picture's mask stays when the picture is moved; empty: it moves with the picture
  bool neutral() const { return parts.empty() && lowest <= 0 && softnessPx <= 0 && !heldAt; }
  friend bool operator==(const MaskNumbers&, const MaskNumbers&) = default;
};

/// On a canvas that was turned, scaled and moved.
MaskNumbers mapped(MaskNumbers numbers, const base::Affine& map);

/// Where a layer shows by brightness: tones (L* / 100) of its own and of what lies below it. Each is four rising tones: nothing
/// below the first, all between the second and the third, nothing above the fourth, straight in between.
struct ToneRange {
  std::array<double, 4> own{0, 0, 1, 1}, below{0, 0, 1, 1};
  bool neutral() const { return *this == ToneRange{}; }
  friend bool operator==(const ToneRange&, const ToneRange&) = default;
};
/// The share of one of the two at a tone.
template <class T>
T shareAt(const std::array<double, 4>& tones, T tone) {
  if (tone < T(tones[1])) return tone < T(tones[0]) ? T(0) : (tone - T(tones[0])) / T(tones[1] - tones[0]);
  if (tone > T(tones[2])) return tone > T(tones[3]) ? T(0) : (T(tones[3]) - tone) / T(tones[3] - tones[2]);
  return T(1);
}

/// "gradient", "tones", "colour", "layer"
const char* maskPartName(const MaskPart& part);
base::Status validMaskNumbers(const MaskNumbers& numbers);
base::Status validShows(const ToneRange& shows);

}  // namespace hseam::scene
