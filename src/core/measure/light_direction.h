#pragma once

#include "core/measure/outline.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// Direction of light on a round subject: angle in the picture, degrees clockwise from straight above, −180..180.
///
/// At the outline of a round thing the surface normal lies in the picture plane. Luminance a few px inside is fitted by normal ·
/// light + ambient (Johnson & Farid 2005) with robust least squares (Huber), since surfaces have many colours. Can't tell: too
/// little outline, frontal or diffuse light, or contradicting stretches.
Reading lightDirectionOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
