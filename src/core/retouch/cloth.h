#pragma once
// Marks on cloth: one comes off and the folds stay, one is laid on and the folds run through it.

#include "core/retouch/retouch.h"
#include "core/scene/edit.h"

namespace hseam::retouch {

/// What the stroke covers gets colour and weave from what `under` shows round about, in the light that lies on it: light is what
/// remains of the logarithm of the colours when steps of colour are taken for the mark's (Land and McCann 1971, Horn 1974).
/// seed: another one, another candidate. Errors: as mended().
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

/// A picture layer takes light and shade of what the scene shows behind it, about their mean, as colours of its own (its source
/// stays), and bends along the slope of the shading by a grid of its warp; tacks and corners stay. Again after it was moved: the
/// earlier laying is replaced. Errors: notFound, invalid (no picture; nothing shows behind it), what rendering says, cancelled.
base::Result<LaidOnCloth> laidOnCloth(const scene::Scene& scene, scene::LayerId mark, const ClothOptions& options,
                                      base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::retouch
