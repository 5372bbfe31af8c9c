#pragma once
// Replaces a part of a picture (a head, eyes, a hand, a thing) by that of another one.

#include <optional>

#include "core/frames/homography.h"
#include "core/scene/edit.h"

namespace hseam::tasks {

struct SwapOptions {
  bool align = true;      // false: stays where its picture's placement puts it
  bool matchTone = true;  // exposure and white balance of what is round the part
  double roomPx = 0;      // of the picture: how far beyond the part the seam may run; 0: a sixth of the part
};

struct PartSwap {
  scene::Several edit;   // a layer of its own in front of the base, masked along the seam; both pictures stay as they are
  scene::LayerId layer;  // that one
  bool aligned = false;  // the part was recognised in both
  /// Its displacement, px of the base's picture, about the part's centre; none if it was not recognised.
  frames::Drift moved;
  double residualPx = 0;  // median, of the places that were recognised; 0: not aligned
  double gainStops = 0;   // that were taken out of it
  /// CIEDE2000 between the mean of both over the room of the seam, before and after matching; nothing: they share none.
  std::optional<double> toneBefore, toneAfter;
  int adjustments = 0;  // confined to the base, and repeated for the part
};

/// part: grey8, px of the base's picture, > 127 = comes from the other one. Both must be picture layers; colours are those they
/// show uncut, masks of the other one count. Errors: notFound, invalid (no picture, the same one, nothing chosen, the other one
/// does not reach there), conflict (part of another size), cancelled, what reading says.
base::Result<PartSwap> swapPart(const scene::Scene& scene, scene::LayerId base, const image::TiledImage& part,
                                scene::LayerId other, const SwapOptions& options, base::Executor& executor,
                                const base::Progress& progress);

}  // namespace hseam::tasks
