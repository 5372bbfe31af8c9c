#pragma once
// Strokes that copy from elsewhere or mend a fleck, painted on a layer of their own: layers under it stay unchanged.

#include "core/base/progress.h"
#include "core/scene/scene.h"

namespace hseam::retouch {

/// What a scene shows on the grid of a painting: straight encoded RGBA over `area` (px of the painting); where the scene shows
/// nothing, alpha is 0. toScene: px of the painting → px of the scene. Whole shifts give the scene's own pixels, all else is
/// interpolated (bicubic), from a smaller level where the copy is smaller. Errors: what rendering says, cancelled.
base::Result<image::Raster<float>> shownOn(const scene::Scene& scene, const base::Affine& toScene, const base::Rect& area,
                                           base::Executor& executor, const std::stop_token& stop = {});

/// A stroke on a painting, drawn as coverage.
struct Stroke {
  image::TiledImage before;    // the painting: rgba8, straight
  image::TiledImage coverage;  // grey8, of its size
  base::Rect touched;          // outside of it coverage is 0
  base::Affine toScene;        // px of the painting → px of the scene
};

/// Copies from `source` through toSource (px of the painting → px of the scene), shifted so that they meet what `under` shows at
/// the stroke's rim (repair/membrane). Errors: what rendering and keeping say.
base::Result<image::TiledImage> copiedInLight(const Stroke& stroke, const scene::Scene& source, const base::Affine& toSource,
                                              const scene::Scene& under, base::Executor& executor,
                                              const base::Progress& progress);

/// Fills what the stroke covers from what `under` shows around it (repair/patch_fill). Another seed gives another candidate.
/// Errors: as above; invalid (there is nothing to fill it from).
base::Result<image::TiledImage> mended(const Stroke& stroke, const scene::Scene& under, std::uint32_t seed,
                                       base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::retouch
