#pragma once
// The subject's own colours where it mixes with its background.

#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

/// Colours of the pixels with 0 < alpha < 1 (and a rim of one px outside), sRGB-encoded.
struct OwnColours {
  std::vector<int> pixels;  // y · width + x
  std::vector<std::array<float, 3>> colours;
};

/// Multi-level estimation (Germer, Uelwer, Conrad, Harmeling 2020, "Fast Multi-Level Foreground Estimation") in linear light,
/// as lenses mix. picture: sRGB-encoded, 3 channels; alpha of the same size. Fine levels work on the undecided pixels only.
base::Result<OwnColours> ownColours(const image::Raster<float>& picture, const image::Raster<float>& alpha,
                                    base::Executor& executor, const base::Progress& progress);

/// The source with those colours written into it; `area`: where the rasters lie in the source.
base::Result<image::TiledImage> withOwnColours(const image::TiledImage& source, const base::Rect& area, const OwnColours& own,
                                               base::Executor& executor);

/// Both steps for a whole picture, in the source's format. alpha: grey8 or grey16 of the source's size. Reads only fractional
/// areas and their surroundings. Errors: cancelled, outOfMemory, what reading says.
base::Result<image::TiledImage> cleanColours(const image::TiledImage& source, const image::TiledImage& alpha,
                                             base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::matte
