#pragma once

#include "core/render/planes.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// Lays a layer down by sentences 1 and 2 of scene/semantics.md: `blended` holds B(Cb, Cs), `source` Cs and the coverage a;
/// backdrop is changed in place. Only pixels with 0 < a < 1 over something pay for linear light.
void layDown(Planes& backdrop, const Planes& source, const Planes& blended, float opacity, scene::Mixing mixing);

/// The same for an adjustment (sentence 8): the backdrop's alpha stays; source's alpha is the mask.
void layAdjustment(Planes& backdrop, const Planes& source, const Planes& blended, float opacity, scene::Mixing mixing);

/// A group that is not isolated, mode normal (sentence 7): `outcome` takes the backdrop's place as far as `cover` (padded
/// floats) and opacity say.
void replaceBy(Planes& backdrop, const Planes& outcome, const float* cover, float opacity, scene::Mixing mixing);

/// The W3C text's removal of the backdrop from a group that is not isolated: `outcome` holds Cn and becomes C, within 0..1;
/// `shape` is αg.
void takeOutBackdrop(const Planes& backdrop, const float* shape, Planes& outcome);

}  // namespace hseam::render
