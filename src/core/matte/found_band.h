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
  /// px of the picture, the largest first, at most eight: where the picture's edge seems to lie beyond what the band may hold, so
  /// that the selection has to be mended first. There the band's two sides look alike.
  std::vector<base::Rect> missed;
};

/// A band for a rough selection. On a level of at most 1600 px a side a strip round the selection's half-way line grows where
/// colours say that strands or a soft edge run out of it, and more of them than the ground's own texture leaves further out; it
/// is solved there; what comes out fractional, with a margin, is the band. It stays within the strip and what that has grown by:
/// a sure inside and a sure outside remain, whatever the picture. picture: 3 or 4 channels; selection: grey8 of its size. Grey8:
/// kSubject, kUndecided, kBackground. Cost: solving the strip on that level, twice where growth was turned down. Errors: invalid
/// (nothing or everything is selected), cancelled, what reading says.
base::Result<FoundBand> findBandAndMisses(const image::TiledImage& picture, const image::TiledImage& selection,
                                          const FoundBandOptions& options, base::Executor& executor,
                                          const base::Progress& progress);
/// The band alone.
base::Result<image::TiledImage> findBand(const image::TiledImage& picture, const image::TiledImage& selection,
                                         const FoundBandOptions& options, base::Executor& executor,
                                         const base::Progress& progress);

}  // namespace hseam::matte
