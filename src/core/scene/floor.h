#pragma once
// The ground plane as seen by the scene's camera: single-view metrology with a known horizon (Criminisi, Reid,
// Zisserman 2000). World: metres; x to the right, y up, z away from the camera along the floor; the camera stands over 0, 0.

#include <array>
#include <optional>

#include "core/base/geometry.h"

namespace hseam::scene {

struct Floor {
  double horizonY = 0;         // scene px, at the canvas's middle column
  double tiltDeg = 0;          // of the horizon, positive = clockwise on the screen, within −45..45
  double cameraHeightM = 1.6;  // > 0
  double viewAngleDeg = 50;    // across the canvas's width, 5..150
  friend bool operator==(const Floor&, const Floor&) = default;
};
/// What is assumed where no floor was set: the horizon at three eighths of the height.
Floor usualFloor(base::Size canvas);

using Vec3 = std::array<double, 3>;

/// A pinhole whose principal point is the canvas's middle.
class FloorCamera {
 public:
  FloorCamera(const Floor& floor, base::Size canvas);
  /// The ray through a scene px, not of unit length; z forward.
  Vec3 ray(base::Point px) const;
  Vec3 position() const { return {0, heightM_, 0}; }
  /// The point of the floor at a px; empty at or above the horizon.
  std::optional<Vec3> floorAt(base::Point px) const;
  /// The px of a point of the world; empty if it lies at the camera or behind it.
  std::optional<base::Point> project(const Vec3& world) const;
  double focalPx() const { return focal_; }

 private:
  double focal_, cx_, cy_, sinTilt_, cosTilt_, sinPitch_, cosPitch_, heightM_;
};

/// Height in px, along the line from foot to head, of something heightM tall that stands at a px of the floor; empty at or above
/// the horizon.
std::optional<double> heightAtFoot(const FloorCamera& camera, base::Point foot, double heightM);

}  // namespace hseam::scene
