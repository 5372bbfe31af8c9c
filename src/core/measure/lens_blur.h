#pragma once
// Defocus of a thin lens: the circle of confusion.

#include <optional>

namespace hseam::measure {

struct Lens {
  double focalMm = 50;    // > 0
  double aperture = 2.8;  // f-number, > 0
  double focusM = 3;      // from the lens to what is sharp; longer than its focal length
  double focalPx = 3000;  // its focal length in px of the picture: width in px × focal length / width of the sensor
};

/// Diameter of the disc, px, of a point so far away: c = f² |d − s| / (N d (s − f)), brought to px. distanceM may be infinite.
/// Empty for impossible values.
std::optional<double> blurDiameterPx(const Lens& lens, double distanceM);

}  // namespace hseam::measure
