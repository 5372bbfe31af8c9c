#pragma once
// Readies a picture before it is worked with: light, colour and detail, as adjustments that are confined to it.

#include <string>

#include "core/base/executor.h"
#include "core/measure/grain.h"
#include "core/measure/tones.h"
#include "core/scene/edit.h"

namespace hseam::tasks {

/// What is done to a picture, in this order. The initial values do nothing; ranges are those of the adjustments.
struct Readying {
  double stops = 0;                    // of exposure
  double mired = 0, tint = 0;          // above 0 warmer, towards magenta
  double highlights = 0, shadows = 0;  // brought back, 0..1
  scene::Levels ends;                  // black point, middle and white point
  double contrast = 0;                 // −1..1, of an S through black, middle and white
  double local = 0;                    // contrast against surroundings, −1..2
  double vivid = 0;                    // saturation that spares vivid colours, −1..1
  double denoise = 0;                  // differences up to about this are evened out, encoded 0..0.3
  double sharpenPx = 1, sharpen = 0;   // the blur to be undone, standard deviation; how much of it, 0..5
  friend bool operator==(const Readying&, const Readying&) = default;
};

/// What was done to a picture of the scene: read from the adjustments that readied() made.
Readying readyingOf(const scene::Scene& scene, scene::LayerId picture);

/// The adjustments of a readying, right in front of the picture and confined to it, one layer for each part that does anything;
/// those of an earlier one are changed or removed. Masks, opacity and other confined layers stay. Errors: notFound, invalid (no
/// picture).
base::Result<scene::Several> readied(const scene::Scene& scene, scene::LayerId picture, const Readying& readying);

/// Warmth and tint that make an encoded colour grey, within the adjustment's range.
struct White {
  double mired = 0, tint = 0;
};
White whiteFor(const std::array<double, 3>& rgb);

/// Readings that a readying starts from and is judged by.
struct ReadyNumbers {
  double midL = 0;          // L* of the middle tone
  measure::Cast light;      // a* b* of a grey of L* 60 under its light
  measure::Reading blurPx;  // standard deviation, of its sharper edges
  measure::Reading grain;   // encoded
};
/// Of a picture as it came, or with its confined adjustments: at most 4 megapixels for tones, the middle of it at full size for
/// blur and grain. Errors: notFound, invalid (no picture), what rendering says, cancelled.
base::Result<ReadyNumbers> readyNumbers(const scene::Scene& scene, scene::LayerId picture, bool withAdjustments,
                                        base::Executor& executor, const base::Progress& progress);

/// The picture in its own px, as far as its mask shows it, alone or with what readied() made. Errors: notFound, invalid (no
/// picture).
base::Result<scene::Scene> pictureByItself(const scene::Scene& scene, scene::LayerId picture, bool withAdjustments);

/// Share of px with a channel at an end: light that is cut off there. On a level of at most 65,536 px. Errors: as readyNumbers.
struct CutOff {
  double black = 0, white = 0;
};
base::Result<CutOff> cutOffShares(const scene::Scene& byItself, base::Executor& executor);

/// Sharpening for the measured blur and noise reduction for the measured grain; the rest of `now` stays.
Readying startingFrom(Readying now, const ReadyNumbers& numbers);

/// `now` with exposure, warmth and tint such that a picture with the readings `own` (as it came) gets the middle tone and the
/// light's colour of `like`.
Readying alike(Readying now, const ReadyNumbers& own, const ReadyNumbers& like);

}  // namespace hseam::tasks
