#pragma once
// What was done to one side of a seam. Where surfaces go on, the colours outside, changed in the same way, are those inside:
// every possible cause is tried, and the one that explains most of what differs is named. So a cast is not taken for lifted
// blacks because it moves the darks as well.

#include "core/measure/seam.h"

namespace hseam::measure {

struct SeamChange {
  enum class Kind { black, white, middle, cast, saturation };
  Kind kind = Kind::black;
  /// black: what 0 becomes, 1 staying where it is. white: what 1 becomes, less 1, 0 staying. middle: the logarithm of the
  /// exponent. saturation: the factor of the distance from luma, less 1. All on encoded values, 0..1. cast: the logarithm of what
  /// red light is multiplied by.
  double amount = 0;
  double blue = 0;      // cast: likewise for blue; green stays
  double spread = 0;    // of the amount, by drawing stretches of the outline anew (bootstrap, Efron 1979)
  double explains = 0;  // share of what differs, 0..1
};
/// The colour (encoded) after the change; held to 0..1.
std::array<double, 3> changed(const SeamChange& change, const std::array<double, 3>& colour);

/// Whether surfaces go on across a seam, and what was done to its inside if they do.
struct AcrossSeam {
  /// At least 60 pairs whose lightness goes together along the seam; the less it does, the better must the two sides match after
  /// the likeliest change.
  bool surfaceContinues = false;
  /// At most two, the one that explains more first; none: what differs is within what chance gives.
  std::vector<SeamChange> changes;
};

/// Compared are quantiles (5 % to 95 %) of the channels and of their distances from luma: the two sides of a seam are never quite
/// the same places, and a line through pairs would be too flat for it.
AcrossSeam acrossSeam(const SeamPairs& pairs);

}  // namespace hseam::measure
