#pragma once
// Where a subject is skin: its colour is known, and it is no neutral and nobody's cast.

#include "core/findings/specimen.h"

namespace hseam::findings {

/// pair.inside without the skin of people: where a learned network sees a person, colours between red and yellow. All of it where
/// nobody is seen, or the networks that come with the program are missing.
image::Raster<std::uint8_t> withoutSkin(const Pair& pair);

}  // namespace hseam::findings
