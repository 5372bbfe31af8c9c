#pragma once
// Blur of a picture, from its own edges.

#include "core/measure/pixels.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// The Gaussian-equivalent blur (standard deviation, px) of the part's edges, the pixel's own area not
/// counted. Every edge of at least 20 L* is read by the ratio of its slopes after blurring with two known widths (Zhuo, Sim 2011,
/// here with a third width that throws out what is no single step); the widths grow with the blur, so that 0.5 to 10 px can be
/// told. Spread: of the edges' own variety. Can't tell: fewer than 12 places on clean edges, or than a quarter of the root of the
/// part's area, and up to three quarters where they are wide: the ramps of a smooth round thing look like a few blurred edges.
struct Sharpness {
  Reading typical;   // 30 % of the edges are sharper
  Reading sharpest;  // 10 % are
  int places = 0;    // on clean edges
};
Sharpness sharpnessOf(const Part& part);

/// 10–90 % width of an edge blurred by a Gaussian of this deviation.
inline constexpr double kWidthOfSigma = 2.563;

}  // namespace hseam::measure
