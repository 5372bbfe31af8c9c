#pragma once

#include "core/image/raster.h"

namespace hseam::matte {

/// Removes the faint traces that a solution leaves on textured backgrounds: alpha near 0 and 1 becomes 0 and 1, and the range
/// between is stretched. By up to 0.15 where the colour evidence is weak (certainty: 0..1, of the undecided pixels) and hardly
/// anything in 31 × 31 px around is fractional; not at all where colours are certain; little among strands and veils, whose faint
/// ends are real. band: as for the solver. Decided pixels stay.
void pressTraces(image::Raster<float>& alpha, const image::Raster<std::uint8_t>& band, const image::Raster<float>& certainty);

}  // namespace hseam::matte
