#pragma once
// What lights.cpp chooses among; the folder's own.

#include "core/render/caster.h"
#include "core/render/planes.h"

namespace hseam::render {

base::Result<bool> paintCastShadow(const scene::Scene& scene, const scene::CastShadow& shadow, Caster& caster,
                                   const base::Rect& area, int level, Planes& out);
base::Result<bool> paintContactShadow(const scene::ContactShadow& shadow, Caster& caster, const base::Rect& area, int level,
                                      Planes& out);
base::Result<bool> paintShading(const scene::Shading& shading, Caster& caster, const base::Rect& area, int level, Planes& out);
base::Result<bool> paintEdgeLight(const scene::EdgeLight& edge, Caster& caster, const base::Rect& area, int level, Planes& out);

}  // namespace hseam::render
