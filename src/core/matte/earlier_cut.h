#pragma once
// Compares two cuts of one picture and takes single stretches back from the earlier one.

#include <array>

#include "core/base/executor.h"
#include "core/image/tiled_image.h"
#include "core/matte/edge_plan.h"

namespace hseam::matte {

/// What CutDifference::where says of a pixel, grey8.
inline constexpr std::uint8_t kLost = 0, kAlike = 128, kGained = 255;

/// Coverage in px²: a pixel that went from 0.25 to 1 counts 0.75.
struct LostGained {
  double lost = 0, gained = 0;
};
struct CutDifference {
  image::TiledImage where;           // grey8: where alpha differs by more than 3 %
  LostGained all;                    // of those pixels
  std::array<LostGained, 3> byKind;  // by EdgeKind of the nearest place of the later cut's outline, within 64 px of it
};

/// before, after: grey8 of one size. Kinds come from `after`. Errors: cancelled, outOfMemory, what reading says.
base::Result<CutDifference> cutDifference(const image::TiledImage& before, const image::TiledImage& after,
                                          base::Executor& executor, const base::Progress& progress);

/// The alpha, clean colours and mask of a cut; clean and mask may be null.
struct CutPictures {
  image::TiledImage alpha, clean, mask;
};
/// `now` with one marked stretch of its outline (that of now.alpha) as it was in `then`: within 64 px, blended over 12 px of arc
/// at the ends; nothing else changes. Unchanged if the outline does not pass the marks. A picture that is null on either side
/// stays as it is now. Errors: what reading says.
base::Result<CutPictures> stretchTakenBack(const CutPictures& now, const CutPictures& then, const MarkedStretch& mark,
                                           base::Executor& executor);

}  // namespace hseam::matte
