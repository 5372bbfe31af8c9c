#pragma once

#include <cstdint>

#include "core/image/raster.h"

namespace hseam::frames {

/// Which px of what has moved are a thing itself and not its shadow: 1 where the colour is not that of the place under less (or
/// more) light. A shadow divides the light of all channels by about the same and leaves the texture; specks and holes are
/// evened out. frame, place: one size, 3 channels, encoded; pieces: 0 = not moved. A grey thing on a grey place may count as a
/// shadow.
image::Raster<std::uint8_t> solidOf(const image::Raster<float>& frame, const image::Raster<float>& place,
                                    const image::Raster<std::int32_t>& pieces);

}  // namespace hseam::frames
