#pragma once
// Frames of one place, each with one lamp lit. Light adds up, so the lamps' light can be weighted and tinted afterwards.

#include <array>
#include <vector>

#include "core/frames/frame.h"
#include "core/image/raster.h"

namespace hseam::frames {

struct Lamp {
  double strength = 1;                  // a factor of the light that the frame adds; 0 = none of it
  std::array<double, 3> tint{1, 1, 1};  // of each linear channel
};

/// base + Σ strength · tint · (frame − base), in linear light; what comes out darker than black is black, lighter than white is
/// white. frames: the base first, all of one size and in their own light; lamps: one for each of the others. Where a frame shows
/// nothing it adds nothing. Errors: invalid (no frame, more than 250, not as many lamps), conflict (sizes differ), cancelled.
base::Result<image::TiledImage> litBy(const std::vector<Frame>& frames, const std::vector<Lamp>& lamps, base::Executor& executor,
                                      const base::Progress& progress);

/// What one of them lights, measured on a level of at most 65,536 px.
struct Lights {
  double share = 0;                       // of the picture that it lightens by at least 0.1 stop and 0.005 of white
  base::Point brightest;                  // 0..1 across and down: centroid of the added light
  double stops = 0;                       // median lightening of the lit part
  std::array<double, 3> colour{1, 1, 1};  // of the added light, linear, its green 1
};
struct WhatLights {
  std::vector<Lights> frames;         // of each after the base
  image::Raster<std::uint8_t> unlit;  // of that level: 1 where none of them adds light
};
/// frames as above.
base::Result<WhatLights> whatLights(const std::vector<Frame>& frames);

}  // namespace hseam::frames
