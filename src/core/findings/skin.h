#pragma once
// Leaves skin out: its own colour says nothing about cast or saturation.

#include "core/findings/specimen.h"

namespace hseam::findings {

/// pair.inside without the skin of people: where a learned network sees a person, colours between red and yellow. pair.inside
/// unchanged where no person is seen or the networks are missing.
image::Raster<std::uint8_t> withoutSkin(const Pair& pair);

}  // namespace hseam::findings
