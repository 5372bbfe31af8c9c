#pragma once
// Changes the background behind a subject.

#include "core/findings/belong.h"

namespace hseam::tasks {

struct BackgroundOptions {
  /// Matches the background to the subject: first its defocus to that of the old background, where both can be read, then tones,
  /// colours, grain and sharpness (findings::belong, sceneToSubject).
  bool bringBackground = true;
};

struct BackgroundChange {
  scene::Several edit;               // all of it as one step
  bool cut = false;                  // the subject was not cut out before, and is now
  double blurredPx = 0;              // standard deviation, scene px, of the blur that the background was given
  findings::Belonging brought = {};  // no steps: it was not asked for
};

/// The subject is cut out, if it is not yet (guess, found band, solved edge); the background comes to lie right behind it, under
/// the same parent, as large as it takes to fill the canvas, its middle in the middle; pictures that lay behind the subject
/// before are hidden. Both must be picture layers. Cost: of a cut and of belong. Errors: notFound, invalid (the subject's own
/// picture, or one that is no picture), those of guessing, cutting and judging.
base::Result<BackgroundChange> changeBackground(const scene::Scene& scene, scene::LayerId subject, scene::LayerId background,
                                                const BackgroundOptions& options, base::Executor& executor,
                                                const base::Progress& progress);

}  // namespace hseam::tasks
