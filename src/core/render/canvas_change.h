#pragma once
// Changes that move everything of a scene at once, and masks carried from one place to another.

#include <string>

#include "core/base/executor.h"
#include "core/scene/edit.h"

namespace hseam::render {

/// A turn, scale and move of the whole scene: px of the old canvas → px of the new one. Only these; no flip, no skew.
struct CanvasChange {
  base::Affine toNew;
  base::Size size;    // of the new canvas
  std::string label;  // for the step list
};

/// Cuts the canvas to `area` or extends it where `area` reaches out (old px).
CanvasChange cropped(const base::Rect& area);
/// Makes the canvas and everything on it larger or smaller.
CanvasChange resized(base::Size now, base::Size size);
/// Turns everything by `degrees` (positive = clockwise) about the middle, and crops to the largest upright rectangle of the old
/// proportions that stays filled.
CanvasChange straightened(base::Size now, double degrees);

/// The change as one Edit: placements follow (no picture is resampled), guides that stay upright follow, masks on the canvas
/// are sampled anew once; where the canvas grows, a mask goes on as it is at its edge. Errors: invalid (an empty canvas or one
/// beyond the limits), what pinning says.
base::Result<scene::Edit> changedCanvas(const scene::Scene& scene, const CanvasChange& change, base::Executor& executor);

/// `coverage` (grey8) seen through `toOutput` on a grid of `size`; outside it its nearest edge. labels: values are taken from
/// the nearest pixel instead of being mixed.
base::Result<image::TiledImage> coverageAs(const image::TiledImage& coverage, const base::Affine& toOutput, base::Size size,
                                           bool labels, base::Executor& executor);

/// The mask of `from` as a mask for `to` that covers the same places of the scene; null if `from` has none.
base::Result<image::TiledImage> maskCarried(const scene::Scene& scene, const scene::Layer& from, const scene::Layer& to,
                                            base::Executor& executor);

/// Another picture in a layer's place, as wide and as far as the old one was, with mask, selection, hints and band kept
/// (scaled if the sizes differ); the solved colours belong to the old picture and go. Of `fresh`, source, name, hash and about
/// count. Errors: invalid (no picture layer).
base::Result<scene::Edit> replacedPicture(const scene::Scene& scene, scene::LayerId layer, const scene::PictureContent& fresh,
                                          base::Executor& executor);

/// What keeps the lights that follow a layer in their places when its picture is replaced by one of another size (px).
std::vector<scene::AnyEdit> lightsAfterReplacing(const scene::Scene& scene, scene::LayerId caster, base::Size after);

}  // namespace hseam::render
