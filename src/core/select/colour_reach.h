#pragma once
// Selection by colour.

#include <array>
#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

struct ColourReach {
  std::vector<std::array<double, 3>> samples;  // sRGB-encoded, 0..1; a pixel counts by the nearest of them
  double reach = 10;                           // CIEDE2000 within which a pixel is chosen wholly, 0..100
  double shoulder = 6;                         // over so much more it falls to nothing, smoothly, 0..100
  std::vector<base::Point> joinedTo;           // px of the picture: only what is connected with one of these; empty: everywhere
  bool inverted = false;                       // the complement is selected
};

/// Grey8 coverage of the picture's size. Differences come from a table of 65³ colours with linear interpolation between them:
/// within 0.5 of CIEDE2000 where that is below 40. Connected: over 4-neighbours with coverage of at least one half; their soft
/// rim is included. Cost: the table (about 0.1 s a sample and thread), then some 20 ns a px. Errors: cancelled, invalid (no
/// sample), what reading says.
base::Result<image::TiledImage> chosenByColour(const image::TiledImage& picture, const ColourReach& options,
                                               base::Executor& executor, const base::Progress& progress);

/// The mean colour of the (2·radius + 1)² px round a place, sRGB-encoded: what a click points at.
base::Result<std::array<double, 3>> colourAround(const image::TiledImage& picture, base::Point at, int radius);

}  // namespace hseam::select
