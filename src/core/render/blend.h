#pragma once

#include "core/render/planes.h"
#include "core/scene/scene.h"

namespace hseam::render {

/// out = B(backdrop, source), colour planes only: W3C Compositing and Blending Level 1, sections 9 and 10, and add, subtract
/// and divide of light (scene/semantics.md, sentence 3). `out` may be `source`. Alpha planes are not read or written. The
/// same bits on every instruction set.
void blendPlanes(scene::BlendMode mode, const Planes& backdrop, const Planes& source, Planes& out);

}  // namespace hseam::render
