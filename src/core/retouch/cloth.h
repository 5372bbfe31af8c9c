#pragma once
// Removes a mark from cloth and keeps the folds; lays a mark on cloth so that folds run through it.

#include "core/retouch/retouch.h"
#include "core/scene/edit.h"

namespace hseam::retouch {

/// Fills what the stroke covers with colour and weave from around it, under the light of the place itself: the logarithm of the
/// colours without their steps, which belong to the mark (Land and McCann 1971, Horn 1974). Another seed gives another candidate.
/// Errors: as mended().
base::Result<image::TiledImage> markTakenOff(const Stroke& stroke, const scene::Scene& under, std::uint32_t seed,
                                             base::Executor& executor, const base::Progress& progress);

struct ClothOptions {
  double shading = 1;  // 0..1 and beyond: how much of the cloth's light and shade the mark takes
  double depthPx = 4;  // scene px: how far the steepest fold moves it; 0: not at all
  double softPx = 4;   // scene px: standard deviation; what is finer is weave, and shades nothing
};

struct LaidOnCloth {
  scene::Several edit;
  double shadeStops = 0;  // between the lightest and the darkest tenth of what it takes
  double movedPx = 0;     // scene px: the most a place of it moves
};

/// Gives a picture layer the shading of what the scene shows behind it, relative to its mean, as its clean colours (the source
/// stays), and bends it along the shading's slope by a grid of its warp; tacks and corners stay. A second call replaces the
/// first. Errors: notFound, invalid (no picture; nothing shows behind it), what rendering says, cancelled.
base::Result<LaidOnCloth> laidOnCloth(const scene::Scene& scene, scene::LayerId mark, const ClothOptions& options,
                                      base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::retouch
