#pragma once
// What a stroke that copies may give away as soon as it is drawn: the same texture twice, a step in tone at its rim.

#include <vector>

#include "core/retouch/retouch.h"

namespace hseam::retouch {

/// One copy: where from and where to, px of the scene.
struct Copied {
  base::Rect from, to;
};
/// Of earlier copies those that took most of the same place as this one: what they laid down looks alike. Copies onto what they
/// were taken from, or onto each other, do not count: only one of them is seen.
std::vector<Copied> repeatsOf(const Copied& copy, const std::vector<Copied>& earlier);

/// The step of tone along the rim of a stroke, L* inside minus outside, the mean over the fifth of the rim where it is largest;
/// both sides are read over `px` of the painting. shown: what the scene shows there with the stroke, straight encoded RGBA over
/// `area`; coverage likewise. 0: there is no rim in it.
double stepAtRim(const image::Raster<float>& shown, const image::Raster<std::uint8_t>& coverage, int px);

}  // namespace hseam::retouch
