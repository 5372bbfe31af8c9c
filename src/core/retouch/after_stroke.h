#pragma once
// Checks after a copying stroke: repeated texture, and a step of tone at its rim.

#include <vector>

#include "core/retouch/retouch.h"

namespace hseam::retouch {

/// One copy: where from and where to, px of the scene.
struct Copied {
  base::Rect from, to;
};
/// The earlier copies with mostly the same source, whose results look alike. Copies that cover their own source or each other do
/// not count.
std::vector<Copied> repeatsOf(const Copied& copy, const std::vector<Copied>& earlier);

/// The step of tone along the rim of a stroke, L* inside minus outside, the mean over the fifth of the rim where it is largest;
/// both sides are read over `px` of the painting. shown: what the scene shows there with the stroke, straight encoded RGBA over
/// `area`; coverage likewise. 0: there is no rim in it.
double stepAtRim(const image::Raster<float>& shown, const image::Raster<std::uint8_t>& coverage, int px);

}  // namespace hseam::retouch
