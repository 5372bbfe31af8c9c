#pragma once
// Shadows, shading and lit edges as colours and coverage, worked out from the caster as it is (scene/semantics.md, 15).

#include "core/render/caster.h"
#include "core/render/planes.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// Fills the planes for `area` (px of the level). False: nothing of it shows here. shapeOf: paints the shapes that cannot be read
/// from one picture. Errors: what reading and painting say.
base::Result<bool> paintLight(const scene::Scene& scene, const scene::LightContent& light, const base::Rect& area, int level,
                              const ShapeOf& shapeOf, Planes& out);

}  // namespace hseam::render
