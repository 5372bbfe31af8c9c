#pragma once
// Reflections of the surroundings in glossy parts.

#include "core/scene/edit.h"

namespace hseam::tasks {

struct GlossOptions {
  /// What stands upright mirrors with left and right swapped; a floor or water upside down.
  bool upsideDown = false;
  double wide = 3;         // 1..8: width of the mirrored surroundings relative to the part: larger for rounder parts
  double roughnessPx = 4;  // 0..200, scene px: standard deviation of the blur of what is mirrored
  double strength = 0.35;  // 0..1
};

struct Gloss {
  scene::Several edit;   // a layer of its own, confined to the subject; everything else stays
  scene::LayerId layer;  // that one
};

/// part: grey8, px of the subject's picture, > 127 = it shines there. The layer shows what lies behind the subject, around the
/// part, as the options say, as light laid over (screen). It is a picture of the surroundings as they are now: make it anew when
/// they change. Errors: notFound, invalid (no picture, an option out of range, nothing chosen), conflict (part of another size),
/// what rendering says.
base::Result<Gloss> glossed(const scene::Scene& scene, scene::LayerId subject, const image::TiledImage& part,
                            const GlossOptions& options, base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::tasks
