#pragma once
// Selecting by colour: everything that looks like what was pointed at.

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
  std::vector<base::Point> joinedTo;           // px of the picture: only what hangs together with one of these; empty: everywhere
  bool inverted = false;                       // what was pointed at is what is not wanted
};

/// Grey8 coverage of the picture's size. Differences come from a table of 65³ colours with linear interpolation between them:
/// within 0.5 of CIEDE2000 where that is below 40. Hanging together: over neighbours (left, right, above, below) that are chosen
/// at least by a half; their soft rim comes along. Cost: the table (about 0.1 s a sample and thread), then some 20 ns a px.
/// Errors: cancelled, invalid (no sample), what reading says.
base::Result<image::TiledImage> chosenByColour(const image::TiledImage& picture, const ColourReach& options,
                                               base::Executor& executor, const base::Progress& progress);

/// The mean colour of the (2·radius + 1)² px round a place, sRGB-encoded: what a click points at.
base::Result<std::array<double, 3>> colourAround(const image::TiledImage& picture, base::Point at, int radius);

}  // namespace hseam::select
