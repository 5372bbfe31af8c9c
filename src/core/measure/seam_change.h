#pragma once
// The change that was made to one side of a seam. Where surfaces continue, the same change turns the colours outside into those
// inside: each possible change is fitted, and the one that explains most of the difference is reported. So a cast, which moves
// the shadows as well, is not taken for lifted blacks.

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
  double explains = 0;  // share of the difference, 0..1
};
/// The colour (encoded) after the change; held to 0..1.
std::array<double, 3> changed(const SeamChange& change, const std::array<double, 3>& colour);

/// Whether surfaces continue across a seam, and the changes of its inside if so.
struct AcrossSeam {
  /// At least 60 pairs whose lightness correlates along the seam; the lower the correlation, the better both sides must match
  /// after the likeliest change.
  bool surfaceContinues = false;
  /// At most two, the one that explains more first; empty if the difference is within chance.
  std::vector<SeamChange> changes;
};

/// Compared are quantiles (5 % to 95 %) of the channels and of their distances from luma: the two sides of a seam are never quite
/// the same places, and a line through pairs would be too flat for it.
AcrossSeam acrossSeam(const SeamPairs& pairs);

}  // namespace hseam::measure
