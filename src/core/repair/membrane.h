#pragma once

#include <cstdint>

#include "core/image/raster.h"

namespace hseam::repair {

/// The role of a pixel in a membrane.
enum class Hold : std::uint8_t { beside, fixed, loose };

/// Solves the Laplace equation for the loose pixels, with the fixed ones as boundary values, coarse to fine. Pixels `beside` and
/// the raster's border are free boundaries. Any number of channels. Loose pixels that no fixed one reaches become 0. holds: 1
/// channel of Hold, of the same size. Cost: linear in the raster.
void relax(image::Raster<float>& values, const image::Raster<std::uint8_t>& holds);

/// Gradient-domain cloning (Pérez, Gangnet and Blake 2003): inside (1 channel, > 0), the copied colours are shifted by a membrane
/// so that they meet `under` at the rim. All of one size; straight encoded RGBA; where either covers nothing it says nothing. The
/// copy's alpha stays.
void takeLight(image::Raster<float>& copied, const image::Raster<float>& under, const image::Raster<std::uint8_t>& inside);

}  // namespace hseam::repair
