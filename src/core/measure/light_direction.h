#pragma once

#include "core/measure/outline.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// From where the light falls on a round subject, as an angle in the picture: degrees clockwise from straight above, −180..180.
///
/// At its outline a round thing faces sideways, so that what turns there to the light is known: luminance a few px inside is
/// fitted by normal · light + surroundings (Johnson & Farid 2005), by least squares that discount what lies far off (Huber), for
/// surfaces are of many colours. Can't tell: little outline, light from ahead or from all around, or stretches of the outline
/// that disagree.
Reading lightDirectionOf(const image::Raster<float>& colours, const std::vector<OutlinePlace>& outline);

}  // namespace hseam::measure
