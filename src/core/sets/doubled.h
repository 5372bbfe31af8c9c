#pragma once
// A frame over the base in two colours, to check and correct the registration by hand.

#include "core/image/raster.h"
#include "core/scene/content/frame_set.h"

namespace hseam::sets {

/// Base and frame as one picture of at most so many pixels, rgb of 8 bit: red is the frame's luma, blue the base's, green their
/// mean. Where they agree it is grey; an offset shows as a red edge on one side and a blue one on the other. frame: 1 or more.
/// Errors: invalid (no such frame), what reading says.
base::Result<image::Raster<std::uint8_t>> doubled(const scene::FrameSet& set, std::size_t frame, double pixels);

/// A frame moved by hand, px of the base; it is used from then on. Errors: invalid (no such frame, or the base).
base::Result<scene::FrameSet> nudged(scene::FrameSet set, std::size_t frame, double dx, double dy);

}  // namespace hseam::sets
