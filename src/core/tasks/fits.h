#pragma once
// What fits what: places ranked for a subject, before hours of work go into a pair that cannot belong together.

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/measure/tones.h"
#include "core/scene/scene.h"
#include "core/store/shelf.h"

namespace hseam::tasks {

/// What is known of a picture: noted by the user, written by the camera, or measured.
struct ShotFacts {
  scene::LayerId layer;
  std::string name;
  base::Size size;
  std::optional<double> horizon;       // share of the height from the top; may lie outside of 0..1
  std::optional<double> viewAngleDeg;  // across the width
  std::optional<double> lightDeg;      // from where light falls, degrees clockwise from straight above, in the picture
  double midL = 0;                     // L*
  measure::Cast light;                 // a* b* of a grey of L* 60 under its light
};

/// Of a picture layer: its noted horizon, else the one its lines tell; the camera's focal length; where light falls, from a
/// shadow or shading that was set on it, else measured on a cut-out subject; tones and light on at most a megapixel. Errors:
/// notFound, invalid (no picture), what reading says, cancelled.
base::Result<ShotFacts> shotFactsOf(const scene::Scene& scene, scene::LayerId picture, const base::Progress& progress);

/// What the shelf knows of an item.
ShotFacts shotFactsOf(const store::ShelfItem& item);

/// A place for a subject, or the other way round.
struct HowItFits {
  scene::LayerId layer;
  std::string name;
  double off = 0;                    // 0 fits in all that is known; 1: one thing is off by as much as is seen at once
  int known = 0;                     // how many things could be compared
  std::vector<std::string> reasons;  // sentences, the worst first
};

/// How well two pictures fit: tilt of the camera (from horizon and angle of view), angle of view, direction of light, exposure
/// and colour of the light, pixels. What is not known of both says nothing.
HowItFits fitOf(const ShotFacts& subject, const ShotFacts& place);

/// The places by how well they fit, the best first; of equal ones those of which more is known.
std::vector<HowItFits> rankedFor(const ShotFacts& subject, const std::vector<ShotFacts>& places);

}  // namespace hseam::tasks
