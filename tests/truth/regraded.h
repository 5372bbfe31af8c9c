#pragma once
// Photographs whose own subject, or all but their subject, was graded otherwise. The picture graded as one is the truth: what
// makes the subject belong is held against it, pixel by pixel.

#include <string>
#include <vector>

#include "core/base/executor.h"
#include "core/scene/scene.h"

namespace hseam::truth {

struct Regraded {
  std::string name;  // "cat, its ground at dusk"
  std::string kind;  // exposure, white balance, fading, split tone, dusk
  scene::Scene scene;
  scene::LayerId layer;               // the subject
  image::Raster<float> truth, cover;  // encoded rgb; coverage of the subject; both as large as the canvas
};

/// Each of the folder's photographs (at most 720 px a side) in each kind: its subject and its ground, by little and by much.
std::vector<Regraded> regradedPhotos(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                     base::Executor& executor);

/// Mean CIEDE2000 over what the subject covers by more than nine tenths.
double distanceOverSubject(const Regraded& of, const scene::Scene& scene, base::Executor& executor);

}  // namespace hseam::truth
