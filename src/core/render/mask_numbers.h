#pragma once
// The parts of a mask that are made of numbers, and showing by brightness, on a strip (scene/semantics.md, 18 and 19).

#include "core/render/planes.h"
#include "core/scene/mask_numbers.h"

namespace hseam::render {

/// L* / 100 of a straight encoded colour.
float toneOf(float red, float green, float blue);

/// The part's value at each pixel of the area (px of the level), joining, inversion and strength left out. colours: what tones
/// and colours are read from. toMask: px of the level → px of the mask. Not for a LayerPart.
void valuesOf(const scene::MaskPart& part, const Planes& colours, const base::Rect& area, const base::Affine& toMask, float* out);
/// Combines a part's values with a mask.
void joinPart(const scene::MaskPart& part, const float* values, int count, float* mask);
/// A Gaussian in place over what lies within the mask (of `size`): its border neither darkens nor spreads. sigma: px of the
/// level.
void soften(float* plane, const base::Rect& area, double sigma, const base::Affine& toMask, base::Size size);
/// cover times what the layer's own tones and those below let through. Where nothing lies below, those do not count.
void showByTone(const scene::ToneRange& shows, const Planes& own, const Planes& below, float* cover);

}  // namespace hseam::render
