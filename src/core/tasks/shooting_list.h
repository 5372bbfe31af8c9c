#pragma once
// A shooting list from a planned scene: for each picture the camera's height, tilt, lens and distance, and the position of the
// lights.

#include <optional>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/scene/scene.h"

namespace hseam::tasks {

/// One picture of the plan.
struct Shot {
  std::string name;          // of the layer
  bool place = false;        // it is what the others stand in: the picture that lies furthest back
  double cameraHeightM = 0;  // over the floor that it stands on
  double tiltDownDeg = 0;    // of the camera: positive looks down
  double focal35Mm = 0;      // on 24 × 36 mm, held so that its longer side is the canvas's
  /// Of a subject: from the point on the floor under the camera to its foot; how tall it is there, and how much of the picture's
  /// height that takes. Nothing: its foot stands on no floor.
  std::optional<double> distanceM, heightM, heightShare;
  double asideM = 0;      // of the middle of the view, to the right
  int leastHeightPx = 0;  // that it has on the canvas: the picture must have no fewer
};
/// A light of the plan: a frame each, so that they can be weighed afterwards.
struct PlannedLight {
  std::string name;                         // of the layer that says so
  double azimuthDeg = 0, elevationDeg = 0;  // as scene::LightFrom has them
  double softnessDeg = 0;                   // how wide it is seen from the subject: a bare lamp little, a window much
};

struct ShootingList {
  bool floorSet = false;    // false: the usual floor was taken, since nobody drew one
  std::vector<Shot> shots;  // from back to front
  std::vector<PlannedLight> lights;
};
/// All pictures that are not hidden, paintings left out. Heights of subjects: what was noted of them (realHeightM), else what
/// their px amount to on the floor where their foot is. Errors: what finding out where they stand says (findings::standsAt).
base::Result<ShootingList> shootingList(const scene::Scene& scene);

/// A page to be printed: a table of the shots and one of the lights, HTML with nothing from elsewhere. title is shown as it is.
std::string shootingListHtml(const ShootingList& list, const std::string& title);
/// The same as lines of text.
std::string shootingListText(const ShootingList& list);

}  // namespace hseam::tasks
