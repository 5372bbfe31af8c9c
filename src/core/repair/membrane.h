#pragma once

#include <cstdint>

#include "core/image/raster.h"

namespace hseam::repair {

/// What a pixel of a membrane is.
enum class Hold : std::uint8_t { beside, fixed, loose };

/// Loose pixels become as smooth as can be between the fixed ones (the Laplace equation, each the mean of its four neighbours),
/// from coarse to fine; what lies beside, and the raster's border, does not hold them. Any number of channels. Loose pixels that
/// no fixed one reaches become 0. holds: 1 channel of Hold, of the same size. Cost: linear in the raster.
void relax(image::Raster<float>& values, const image::Raster<std::uint8_t>& holds);

/// Copied colours in the light of where they are laid (Pérez, Gangnet and Blake 2003): where `inside` (1 channel, > 0) they are
/// moved by a membrane, so that round about they meet `under`. All of one size; straight encoded RGBA; where either covers
/// nothing it says nothing. The copy's alpha stays.
void takeLight(image::Raster<float>& copied, const image::Raster<float>& under, const image::Raster<std::uint8_t>& inside);

}  // namespace hseam::repair
