#pragma once

#include "core/image/raster.h"

namespace hseam::matte {

/// Presses the traces that a solution leaves on textured grounds to nothing: alpha near 0 and 1 goes to 0 and 1, and what lies
/// between is spread over the whole range. By up to 0.15 of alpha where single colours tell little (certainty: 0..1, of the
/// undecided pixels) and next to nothing of the surroundings (31 × 31 px) is clearly fractional; by nothing where colours are
/// sure, and by little among strands and veils, whose faint ends are real. band: as for the solver. Decided pixels stay.
void pressTraces(image::Raster<float>& alpha, const image::Raster<std::uint8_t>& band, const image::Raster<float>& certainty);

}  // namespace hseam::matte
