#include "core/scene/placement.h"

#include <cmath>
#include <numbers>

namespace hseam::scene {

base::Affine Placement::toScene(base::Size s) const {
  const double cx = s.width / 2.0, cy = s.height / 2.0;
  // Quarter turns are exact, so that a turned picture is not resampled.
  const double quarter = rotationDeg / 90.0;
  double cosine = std::cos(rotationDeg * std::numbers::pi / 180), sine = std::sin(rotationDeg * std::numbers::pi / 180);
  if (quarter == std::round(quarter)) cosine = std::round(cosine), sine = std::round(sine);
  const double fx = flipX ? -1 : 1, fy = flipY ? -1 : 1;
  // Leaning to the right moves what is further up (smaller y) to larger x.
  const double lean = skewDeg == 0 ? 0 : -std::tan(skewDeg * std::numbers::pi / 180);
  base::Affine m{
      scale * cosine * fx, scale * (cosine * lean - sine) * fy, scale * sine * fx, scale * (sine * lean + cosine) * fy, 0, 0};
  const base::Point centre{x + scale * cx, y + scale * cy};
  const base::Point turned = m.map({cx, cy});
  m.e = centre.x - turned.x;
  m.f = centre.y - turned.y;
  return m;
}

bool validPlacement(const Placement& p) {
  return p.scale >= 1e-4 && p.scale <= 1e4 && std::abs(p.x) < 1e7 && std::abs(p.y) < 1e7 && std::abs(p.rotationDeg) < 1e5 &&
         std::abs(p.skewDeg) <= 80;
}

}  // namespace hseam::scene
