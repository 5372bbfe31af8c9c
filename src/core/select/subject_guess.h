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

/// The subject, as grey8 coverage of the picture's size. Min-cut on colour mixtures (Rother, Kolmogorov, Blake 2004, from
/// OpenCV) at a working resolution of about 480 px, then brought to full size level by level with a guided filter (He, Sun,
/// Tang 2013) along the outline. Without a box the picture's border is taken as background. Cost: 0.2..0.9 s for the cut,
/// plus about 30 ns a px of the outline's surroundings. Errors: cancelled, invalid (hints contradict, nothing found).
base::Result<image::TiledImage> guessSubject(const image::TiledImage& picture, const GuessOptions& options,
                                             base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::select
