#pragma once
// Adjustments that are a list of numbers: what each is called, what its numbers mean, and how far it looks around. A new one is
// a line in the table (adjustment_kinds.cpp) and its function (colour_functions.h, or a file of render/effects).

#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"

namespace hseam::scene {

/// In the order of the table.
enum class AdjustmentId {
  brightness,
  slope,
  recover,
  local,
  hues,
  vivid,
  warmth,
  gel,
  twoTones,
  grey,
  posterise,
  gaussian,
  defocus,
  motion,
  sharpen,
  deblur,
  denoise,
  even,
  grain,
  corners,
  haze,
  flare,
  wrap
};

struct AdjustmentField {
  const char* key;   // in files
  const char* name;  // for people
  const char* unit;  // as shown
  const char* tip;
  double low, high, initial;
  double shownTimes = 1;     // the interface shows value · shownTimes
  int decimals = 0;          // of what is shown
  const char* section = "";  // fields of one section are shown together
  /// Of the colours about one hue: degrees (0 red, 120 green, 240 blue), and what it changes of them. Below 0: of no hue.
  double hue = -1;
  const char* amount = "";
};

struct AdjustmentKind {
  AdjustmentId id;
  const char* key;
  const char* name;
  const char* tip;
  enum class Shelf { tones, colours, focus, air } shelf;
  /// byChannel: each channel alone. byPixel: the three of a pixel. byPlace: it matters where the pixel lies. around: its
  /// surroundings matter. behind: what lies under the layer it is confined to matters.
  enum class Acts { byChannel, byPixel, byPlace, around, behind } acts;
  bool movesCoverage = false;  // a blur: it acts on coverage as well (semantics.md, 14)
  std::vector<AdjustmentField> fields;
  /// How far it looks, scene px. Null: not at all.
  double (*reach)(const std::vector<double>& values) = nullptr;
};

const std::vector<AdjustmentKind>& adjustmentKinds();
/// Nothing: no kind of the table has that key.
std::optional<AdjustmentId> adjustmentNamed(const std::string& key);

/// An adjustment of the table; values in the order of its fields.
struct ParametricAdjustment {
  AdjustmentId id = AdjustmentId::brightness;
  std::vector<double> values;
  const AdjustmentKind& of() const { return adjustmentKinds()[std::size_t(id)]; }
  /// The value of a field that the kind has.
  double operator[](const char* key) const;
  friend bool operator==(const ParametricAdjustment&, const ParametricAdjustment&) = default;
};
/// With all its fields at their initial values.
ParametricAdjustment parametric(AdjustmentId id);
/// The same with one field set.
ParametricAdjustment with(ParametricAdjustment numbers, const char* key, double value);
base::Status validParameters(const ParametricAdjustment& numbers);
/// Scene px; 0 for what looks at nothing around it.
double reachOf(const ParametricAdjustment& numbers);

}  // namespace hseam::scene
