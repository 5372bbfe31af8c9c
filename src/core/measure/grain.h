#pragma once
// Grain: standard deviation of the finest diagonal detail, by tone.

#include <array>

#include "core/measure/pixels.h"
#include "core/measure/reading.h"

namespace hseam::measure {

inline constexpr int kGrainBins = 8;
/// Standard deviation of encoded luma, 0..1, in each eighth of the tones (encoded); with the number of samples.
struct Grain {
  std::array<double, kGrainBins> sigma{};
  std::array<int, kGrainBins> places{};
};
/// From the finest diagonal Haar band of 2 × 2 px, in flat places only (of 16 × 16 px blocks the third whose coarser detail is
/// least), by the mean of the lower four fifths of absolute values (as robust as Donoho and Johnstone's median of 1994, less
/// coarse on whole steps), the rounding to 8 bits taken out.
Grain grainOf(const Part& part);

/// layer / scene over the tones that both have (at least 150 places each), weighted by places. Can't tell: no tones in common, or
/// both are free of grain (under 0.25 / 255), or the ratio varies too much between tones (deviation of its logarithm above 0.5).
Reading grainRatio(const Grain& layer, const Grain& scene);
/// Upper limit of grain for surfaces without flat places: the lowest tenth of deviations of that detail in squares of 8 × 8 px
/// (texture can only add to grain). Spread: of the lowest third; where it exceeds a third of the value, texture dominates. Can't
/// tell: fewer than 30 squares.
Reading grainFloor(const Part& part);
/// The mean over the tones, encoded.
Reading grainLevel(const Grain& grain);

}  // namespace hseam::measure
