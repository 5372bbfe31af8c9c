#pragma once

#include <array>

#include "core/base/geometry.h"
#include "core/image/raster.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// What a shadow leaves of the floor beside it.
struct ShadowTone {
  Reading left;  // of the light, its encoded luminance, 0..1; spread: half the difference between its two sides
  std::array<double, 3> colour{1, 1, 1};  // the same a channel, encoded
};

/// Along the middle of a shadow from where it begins to its tip (px of `colours`, straight encoded RGBA): across it, at many
/// places, the middle against the brighter floor within half its length on either side; medians, so that joints and specks do not
/// count. Can't tell: shorter than 8 px, outside of the picture, or hardly darker than what lies beside it (less than 7 %).
ShadowTone shadowToneOf(const image::Raster<float>& colours, base::Point foot, base::Point tip);

}  // namespace hseam::measure
