#pragma once
// Cuts a subject out of a picture, or out of a layer of a scene.

#include "core/matte/edge_readings.h"
#include "core/matte/whole_cut.h"
#include "core/scene/edit.h"

namespace hseam::tasks {

/// A stretch of the outline, px of the picture.
struct ToldStretch {
  matte::EdgeKind kind = matte::EdgeKind::solid;
  double confidence = 0;  // 0..1
  int lengthPx = 0;
  base::Point from, to;
};
/// What kinds of edge a cut's outline has. Errors: what reading says.
base::Result<std::vector<ToldStretch>> stretchesOf(const image::TiledImage& picture, const matte::Cut& cut,
                                                   base::Executor& executor);

/// Colours and alpha of a cut in one picture with straight alpha, as wide as the picture was. Errors: what reading says.
base::Result<image::TiledImage> cutoutPicture(const matte::Cut& cut, base::Executor& executor);

/// The layer's selection (guessed where there is none), its band (found where there is none) and its solved edge, as one step.
/// layer must be a picture. Cost: of a guess and of matte::wholeCut. Errors: notFound, those of guessing and cutting.
base::Result<scene::Several> cutLayerOut(const scene::Scene& scene, scene::LayerId layer, base::Executor& executor,
                                         const base::Progress& progress);

}  // namespace hseam::tasks
