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

/// The place on the caster's upright plane that a scene px on the floor (or on the wall) is shadowed by: across and up in
/// metres from its foot, how far along the light's way, and the scene px that this place is seen at.
struct Shadowed {
  double acrossM, upM, alongM;
  base::Point seenAt;
};
/// foot: scene px. Nothing: no light is kept from there.
std::optional<Shadowed> shadowedBy(const scene::FloorCamera& camera, const scene::CastShadow& shadow, base::Point foot,
                                   base::Point px);

}  // namespace hseam::render
