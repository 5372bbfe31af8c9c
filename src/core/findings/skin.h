#pragma once
// Which part of a subject is skin: a colour of its own, of which neither a cast nor a saturation can be told.

#include "core/findings/specimen.h"

namespace hseam::findings {

/// pair.inside without the skin of people: where a learned network sees a person, colours between red and yellow. All of it where
/// nobody is seen, or the networks that come with the program are missing.
image::Raster<std::uint8_t> withoutSkin(const Pair& pair);

}  // namespace hseam::findings
