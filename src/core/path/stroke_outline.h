#pragma once
// A line of some width along a path, whole or in dashes, as outlines that can be covered.

#include "core/path/path.h"

namespace hseam::path {

struct StrokeStyle {
  double widthPx = 6;  // 0.1..2000
  double dashPx = 0;   // length of a stitch; 0: a whole line
  double gapPx = 0;    // between stitches
  bool roundEnds = true;
  friend bool operator==(const StrokeStyle&, const StrokeStyle&) = default;
};
/// What must hold: numbers in range; dashes and gaps 0 or from 0.5 to 10000 px, a dash with a gap.
bool fits(const StrokeStyle& style);

/// Closed outlines of what the line covers; joins are round. On a closed outline dashes are stretched a little so that a whole
/// number of them fits. At most 20000 dashes. Chords leave the curve by less than 0.05 px.
Path strokeOutline(const Path& along, const StrokeStyle& style);

}  // namespace hseam::path
