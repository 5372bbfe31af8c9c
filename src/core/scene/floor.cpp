#include "core/scene/floor.h"

#include <cmath>

namespace hseam::scene {

Floor usualFloor(base::Size canvas) {
  Floor f;
  f.horizonY = canvas.height * 0.375;
  return f;
}

FloorCamera::FloorCamera(const Floor& f, base::Size canvas)
    : focal_(canvas.width / 2.0 / std::tan(f.viewAngleDeg * M_PI / 360)),
      cx_(canvas.width / 2.0),
      cy_(canvas.height / 2.0),
      sinTilt_(std::sin(f.tiltDeg * M_PI / 180)),
      cosTilt_(std::cos(f.tiltDeg * M_PI / 180)),
      heightM_(f.cameraHeightM) {
  // The horizon lies as far from the principal point as the camera looks down.
  const double pitch = std::atan((cy_ - f.horizonY) * cosTilt_ / focal_);
  sinPitch_ = std::sin(pitch);
  cosPitch_ = std::cos(pitch);
}

Vec3 FloorCamera::ray(base::Point px) const {
  const double dx = px.x - cx_, dy = px.y - cy_;
  const double x = (cosTilt_ * dx + sinTilt_ * dy) / focal_, up = -(-sinTilt_ * dx + cosTilt_ * dy) / focal_;
  return {x, up * cosPitch_ - sinPitch_, up * sinPitch_ + cosPitch_};
}

std::optional<Vec3> FloorCamera::floorAt(base::Point px) const {
  const Vec3 d = ray(px);
  if (d[1] > -1e-9) return std::nullopt;
  const double t = heightM_ / -d[1];
  return Vec3{t * d[0], 0, t * d[2]};
}

std::optional<base::Point> FloorCamera::project(const Vec3& w) const {
  const double y = w[1] - heightM_, up = y * cosPitch_ + w[2] * sinPitch_, forward = -y * sinPitch_ + w[2] * cosPitch_;
  if (forward < 1e-6) return std::nullopt;
  const double x = focal_ * w[0] / forward, down = -focal_ * up / forward;
  return base::Point{cx_ + cosTilt_ * x - sinTilt_ * down, cy_ + sinTilt_ * x + cosTilt_ * down};
}

std::optional<double> heightAtFoot(const FloorCamera& camera, base::Point foot, double heightM) {
  const auto at = camera.floorAt(foot);
  if (!at) return std::nullopt;
  const auto head = camera.project({(*at)[0], heightM, (*at)[2]});
  if (!head) return std::nullopt;
  return std::hypot(head->x - foot.x, head->y - foot.y);
}

}  // namespace hseam::scene
