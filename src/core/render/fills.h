#pragma once

#include "core/render/planes.h"
#include "core/scene/content/fill.h"

namespace hseam::render {

/// Fills the planes for `area` (px of the level) with the fill's colours and coverage; scene/semantics.md, 16.
void paintFill(const scene::Fill& fill, const base::Rect& area, int level, Planes& out);

}  // namespace hseam::render
