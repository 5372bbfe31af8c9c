#pragma once
// How the user wants an edge, by kind and by marked stretch. The solved alpha is never changed: the plan is applied to it again
// whenever either changes.

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/matte/edge_readings.h"

namespace hseam::matte {

/// How an edge is altered, as seen across it. The neutral values change nothing.
struct EdgeShape {
  double offsetPx = 0;  // moves the edge outwards, −40..40, sub-pixel
  double width = 1;     // factor of the way from covered to uncovered, 0.1..4
  double tail = 0;      // −1..1: above 0 faint alpha becomes stronger, below 0 weaker
  double roundPx = 0;   // 0..60: smooths bumps of the outline up to about this length
  friend bool operator==(const EdgeShape&, const EdgeShape&) = default;
};

/// A stretch of an outline marked by hand.
struct MarkedStretch {
  std::vector<base::Point> along;  // px of the picture, every kMarkStep px or less
  std::optional<EdgeKind> kind;    // overrides the readings when it is solved
  std::optional<EdgeShape> shape;  // instead of its kind's
  friend bool operator==(const MarkedStretch&, const MarkedStretch&) = default;
};
inline constexpr double kMarkStep = 8;

struct EdgePlan {
  std::array<EdgeShape, 3> byKind;       // by EdgeKind
  int specksPx = 0;                      // islands and pinholes up to this area (px²) go, 0..10000
  std::vector<MarkedStretch> stretches;  // later ones win
  bool neutral() const { return *this == EdgePlan{}; }
  /// Neutral but for kinds: alpha needs no shaping.
  bool shapes() const;
  friend bool operator==(const EdgePlan&, const EdgePlan&) = default;
};

/// As a JSON object; an empty string for a neutral plan.
std::string toText(const EdgePlan& plan);
/// Errors: corrupt. Numbers out of range are brought into it.
base::Result<EdgePlan> edgePlanFrom(const std::string& text);

/// The marked part: places [first, first + count) of one outline, going round its end if need be.
MarkedStretch markedFrom(const Unrolled& outline, int first, int count);
/// The plan's entry for the very same marks; made, if there is none yet.
MarkedStretch& entryOf(EdgePlan& plan, const MarkedStretch& mark);
/// For every place, whether it lies on the stretch as it was marked: within 20 px of it.
std::vector<bool> placesOn(const Unrolled& outline, const MarkedStretch& stretch);
/// The same as runs of places, each on one outline. Runs under 8 px are left out: they belong to another outline nearby.
struct PlaceRun {
  int first = 0, count = 0;
};
std::vector<PlaceRun> runsOn(const Unrolled& outline, const MarkedStretch& stretch);
/// Which of the plan's stretches covers most of [first, first + count), if it covers at least half; else nothing.
std::optional<std::size_t> stretchAt(const EdgePlan& plan, const Unrolled& outline, int first, int count);

}  // namespace hseam::matte
