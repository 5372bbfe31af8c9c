#pragma once

#include "core/image/raster.h"
#include "core/measure/reading.h"

namespace hseam::measure {

/// The horizon of a picture's camera, from edges that are parallel and level in the world: they meet in vanishing points, and
/// these lie on the horizon.
struct Horizon {
  Reading y;           // px of the raster, at the middle column; may lie outside of the picture
  double tiltDeg = 0;  // positive = clockwise on the screen; 0 where only one vanishing point was found
  int lines = 0;       // that meet
};

/// Line segments (von Gioi, Jakubowicz, Morel and Randall 2012) on at most 1000 px a side; vanishing points by random samples of
/// pairs (Fischler and Bolles 1981), refined by least squares, their spread by bootstrap. The same picture gives the same answer.
/// Needs many lines in several directions, or two vanishing points: of a picture with few straight edges it can't tell. Lines
/// that rise steeply count as upright and are left out. colours: 3 or more channels, encoded.
Horizon horizonOf(const image::Raster<float>& colours);

}  // namespace hseam::measure
