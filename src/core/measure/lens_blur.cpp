#include "core/measure/lens_blur.h"

#include <cmath>

namespace hseam::measure {

std::optional<double> blurDiameterPx(const Lens& lens, double distanceM) {
  const double f = lens.focalMm / 1000, s = lens.focusM, d = distanceM;
  if (!(f > 0 && lens.aperture > 0 && s > f && d > 0 && lens.focalPx > 0)) return std::nullopt;
  const double away = std::isinf(d) ? 1 : std::abs(d - s) / d;
  const double diameterM = f * f * away / (lens.aperture * (s - f));
  return diameterM / f * lens.focalPx;
}

}  // namespace hseam::measure
