#pragma once
// What lies on both sides of a seam. Where a surface goes on across it, the two sides should be alike, and what differs is the
// fault itself: far finer than comparing a subject as a whole with its surroundings.

#include <array>
#include <vector>

#include "core/measure/outline.h"

namespace hseam::measure {

/// Means of encoded colours 3 to 9 px inside of a place of the outline and as far outside of it.
struct SeamPairs {
  std::vector<std::array<float, 3>> inside, outside;
  /// Correlation of lightness across the seam along it, −1..1: near 1 where surfaces go on. Exposure, lifted blacks and casts
  /// leave it.
  double likeness = 0;
  bool goesOn() const { return inside.size() >= 60 && likeness > 0.7; }
};
SeamPairs pairsAcross(const image::Raster<float>& own, const image::Raster<float>& scene,
                      const std::vector<OutlinePlace>& outline);

/// inside = offset + slope · outside, by medians of the slopes between quantiles of both (5 % to 95 %; Theil 1950, Sen 1968): the
/// two sides are never quite the same surface, and a line through pairs would be too flat for it.
struct Line {
  double offset = 0, slope = 1;
  double middle = 0, spreadX = 0;  // of outside
  double noise = 0;                // of a pair about the line
  double low = 0, high = 0;        // between which outside lies
  std::size_t count = 0;
  double at(double x) const { return offset + slope * x; }
  /// Of the line at x.
  double spreadAt(double x) const;
};
/// Of a value of each pair.
Line lineThrough(const std::vector<float>& outside, const std::vector<float>& inside);

/// Encoded grey (luma by sRGB's weights) of a colour.
float greyOf(const std::array<float, 3>& colour);

/// The light of the inside against the outside's, as a* b* of a grey of L* 60: by the medians of the ratios of red and of blue to
/// green, in linear light, of pairs that are neither dark nor clipped.
struct SeamCast {
  bool told = false;
  double a = 0, b = 0, spread = 0;
};
SeamCast castAcross(const SeamPairs& pairs);

/// How many times as colourful the inside is: the slope of its a* b* on the outside's. Can't tell: too little colour there.
Reading saturationAcross(const SeamPairs& pairs);

/// Whether a change of colour across the seam is more likely one of saturation than a cast: both move the middle colour, along
/// its own hue; only saturation spreads the colours about it. −1: a cast; 1: saturation; near 0: neither is likelier.
double saturationRatherThanCast(const SeamPairs& pairs);

}  // namespace hseam::measure
