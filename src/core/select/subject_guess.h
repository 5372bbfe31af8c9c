#pragma once

#include <optional>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

/// What a hint picture says, grey8 (other values: nothing).
inline constexpr std::uint8_t kHintSubject = 255, kHintBackground = 0, kHintNothing = 128;

struct GuessOptions {
  std::optional<base::Rect> box;  // px of the picture: the subject lies inside
  image::TiledImage hints;        // null: none; else grey8 of the picture's size
  image::TiledImage previous;     // null: start anew; else the coverage that the hints correct
};

/// The guess on a level of about 480 px a side (about 360 where hints correct an earlier one), 255 or 0 for every pixel there.
struct CoarseGuess {
  image::Raster<std::uint8_t> subject;
  int level = 0;
};
/// Min-cut on colour mixtures (Rother, Kolmogorov, Blake 2004, from OpenCV). Without a box the picture's border is taken as
/// background. Cost: 0.2..0.9 s, a correction by hints less than 0.15 s. Errors: cancelled, invalid (hints contradict, nothing
/// found), outOfMemory, what reading says.
base::Result<CoarseGuess> coarseGuess(const image::TiledImage& picture, const GuessOptions& options,
                                      const base::Progress& progress);

/// The subject, as grey8 coverage of the picture's size: the coarse guess brought to full size level by level with a guided
/// filter (He, Sun, Tang 2013) along the outline, about 30 ns a px of the outline's surroundings. Errors: those of coarseGuess.
base::Result<image::TiledImage> guessSubject(const image::TiledImage& picture, const GuessOptions& options,
                                             base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::select
