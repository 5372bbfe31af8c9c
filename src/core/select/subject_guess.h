#pragma once

#include <optional>
#include <string>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

/// Values of a hint picture, grey8 (others mean nothing).
inline constexpr std::uint8_t kHintSubject = 255, kHintBackground = 0, kHintNothing = 128;

struct GuessOptions {
  std::optional<base::Rect> box;  // px of the picture: the subject lies inside
  image::TiledImage within;       // null: no limit; else grey8 of the picture's size, a loose outline round the subject
  image::TiledImage hints;        // null: none; else grey8 of the picture's size
  image::TiledImage previous;     // null: start anew; else the coverage that the hints correct
};

/// A possible subject: 255 or 0, on a picture of kGuessSide px at the longer side.
struct Candidate {
  std::string what;       // "person", "dog", "everything in front"
  double confidence = 0;  // 0..1
  image::Raster<std::uint8_t> subject;
};
inline constexpr int kGuessSide = 320;

struct SeenSubjects {
  std::vector<Candidate> candidates;  // the best first
  std::vector<base::Rect> doubtful;   // px of the picture: where the cues for the first one disagree, the largest first
  std::string missing;                // a sentence, if the learned networks are missing and only colours were used
};

/// Guesses the subject: a learned prior and detected things (core/learned), then a min-cut on colour mixtures. With hints, an
/// earlier guess is corrected instead. most: maximum number of candidates, 1..5. Errors: cancelled, invalid (hints contradict,
/// nothing found), outOfMemory, what reading says.
base::Result<SeenSubjects> seeSubjects(const image::TiledImage& picture, const GuessOptions& options, int most,
                                       const base::Progress& progress);

/// The best candidate as grey8 coverage of the picture's size. Errors: those of seeSubjects.
base::Result<image::TiledImage> guessSubject(const image::TiledImage& picture, const GuessOptions& options,
                                             base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::select
