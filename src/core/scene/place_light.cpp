#include "core/scene/place_light.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {

std::optional<LightFrom> lightFromShadow(const SeenShadow& seen, const FloorCamera& camera) {
  const auto foot = camera.floorAt(seen.foot), tip = camera.floorAt(seen.tip);
  if (!foot || !tip) return std::nullopt;
  // Where the ray through the top meets the upright plane that faces the camera over the foot.
  const Vec3 ray = camera.ray(seen.top);
  if (ray[2] <= 0) return std::nullopt;
  const double height = camera.position()[1] + ray[1] / ray[2] * (*foot)[2];
  const double dx = (*tip)[0] - (*foot)[0], dz = (*tip)[2] - (*foot)[2], way = std::hypot(dx, dz);
  if (height <= 0 || way < 1e-6) return std::nullopt;
  LightFrom from;
  from.azimuthDeg = std::atan2(-dx, dz) * 180 / M_PI;
  from.elevationDeg = std::clamp(std::atan2(height, way) * 180 / M_PI, 1.0, 90.0);
  return from;
}

std::optional<base::Point> topUnder(base::Point foot, base::Point tip, double elevationDeg, const FloorCamera& camera) {
  const auto at = camera.floorAt(foot), end = camera.floorAt(tip);
  if (!at || !end) return std::nullopt;
  const double way = std::hypot((*end)[0] - (*at)[0], (*end)[2] - (*at)[2]);
  return camera.project({(*at)[0], way * std::tan(std::clamp(elevationDeg, 1.0, 89.0) * M_PI / 180), (*at)[2]});
}

base::Status validPlaceLight(const PlaceLight& l) {
  const auto share = [](double v) { return v >= 0 && v <= 1; };
  const auto near = [](base::Point p) { return std::abs(p.x) < 1e6 && std::abs(p.y) < 1e6; };
  const LightFrom& f = l.from;
  const bool ranges = std::abs(f.azimuthDeg) <= 180 && f.elevationDeg >= 1 && f.elevationDeg <= 90 && f.sizeDeg >= 0 &&
                      f.sizeDeg <= 60 && share(l.density) && std::all_of(l.colour.begin(), l.colour.end(), share);
  const bool drawn = !l.seen || (near(l.seen->foot) && near(l.seen->top) && near(l.seen->tip));
  if (!ranges || !drawn) return base::Error{base::Code::invalid, "light", "the light of the place is out of range"};
  return {};
}

}  // namespace hseam::scene
