#pragma once
// Composites with one fault of a known kind and size in them, and clean ones: a photograph cut and put back.

#include <string>

#include "core/image/raster.h"
#include "core/scene/scene.h"

namespace hseam::truth {

using Photo = image::Raster<std::uint8_t>;  // 3 channels, sRGB

struct Planted {
  scene::Scene scene;
  scene::LayerId layer;  // the subject
  std::string kind;      // empty: clean
  double excess = 0;     // of the tolerance
};

/// A roundish piece of the photograph as a layer of its own over the same photograph, in its place.
Planted putBack(const Photo& photo, unsigned seed);
/// A piece of another photograph over it, as it is.
Planted foreign(const Photo& photo, const Photo& other, unsigned seed);
/// The same with a fault of `excess` times the kind's usual tolerance; `up`: to the one side or the other, where there are two.
/// kind: black_point, white_point, cast, saturation, grain, sharpness, halo, edge_softness, leftovers, effective_resolution.
Planted spoilt(const Photo& photo, unsigned seed, const std::string& kind, double excess, bool up);

/// Reads a picture and brings it to `longSide` px by area.
Photo photoFrom(const std::string& path, int longSide);

}  // namespace hseam::truth
