#pragma once
// The transition band found from the picture itself: thin where the edge is crisp, as wide as the strands where there are any.

#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

struct FoundBandOptions {
  double selectionErrorPx = 13;  // level-0 px by which the selection may miss the edge
  double stepMarginPx = 8;       // of the band to each side of a crisp edge
  double solidMarginPx = 6;      // of the band round what is neither subject nor background, where that is thin
  double softMarginPx = 12;      // ... and where it is wide: blur, strands, veils
};

struct FoundBand {
  image::TiledImage band;
  /// px of the picture, the largest first, at most eight: places where the picture's edge seems to lie outside the band because
  /// both sides of it look alike; the selection has to be corrected there first.
  std::vector<base::Rect> missed;
};

/// Finds the band of a rough selection. At a level of at most 1600 px a side, a strip along the selection's border grows where
/// strands or a soft edge leave it and the background's own texture does not explain them. Alpha is solved in the strip; the band
/// is what comes out fractional, with a margin. The band never leaves the strip, so a certain inside and outside always remain.
/// picture: 3 or 4 channels; selection: grey8 of its size. Grey8: kSubject, kUndecided, kBackground. Cost: solving the strip on
/// that level, twice where growth was turned down. Errors: invalid (nothing or everything is selected), cancelled, what reading
/// says.
base::Result<FoundBand> findBandAndMisses(const image::TiledImage& picture, const image::TiledImage& selection,
                                          const FoundBandOptions& options, base::Executor& executor,
                                          const base::Progress& progress);
/// The band alone.
base::Result<image::TiledImage> findBand(const image::TiledImage& picture, const image::TiledImage& selection,
                                         const FoundBandOptions& options, base::Executor& executor,
                                         const base::Progress& progress);

}  // namespace hseam::matte
