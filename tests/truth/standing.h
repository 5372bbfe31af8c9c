#pragma once
// Rendered truth for the whole: a subject set into a place from a studio picture, and the same subject standing there, lit by the
// place, with its shadows, from the same camera. Made by demo/scenes/standing.py; both lie on each other to the pixel.

#include <optional>
#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::truth {

struct Standing {
  std::string name;      // "quay-dusk-keeper"
  scene::Scene scene;    // the place and the cut-out on it, nothing else
  scene::LayerId layer;  // the cut-out
  scene::Floor floor;    // the place's, as it was rendered
  /// What a person answers who is asked for a shadow in the place (shown.json): one, computed from where a post stands and put
  /// off by a px or two, or that there is none.
  std::optional<scene::SeenShadow> shown;
  bool shadowless = false;
  scene::LightFrom sunFrom;            // the place's, as it was rendered, where it has one
  image::Raster<float> truth, ground;  // encoded rgb of the canvas's size
  image::Raster<float> subject,
      near;                      // where the subject covers nine tenths; the floor within one height of its foot, without it
  image::Raster<float> contact;  // of that, what touches its lowest eighth: nearer than a twentieth of its height
};

/// The pairs of a folder, by name. The first, third … was tuned on, the rest is reported.
std::vector<Standing> standingSubjects(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                       base::Executor& executor);

struct FromTruth {
  double subject = 0, floor = 0;  // mean CIEDE2000
  double contact = 0;             // how much darker the floor is at the foot than without the subject: share of light
  double trueContact = 0;
};
FromTruth fromTruth(const Standing& of, const scene::Scene& scene, base::Executor& executor);

}  // namespace hseam::truth
