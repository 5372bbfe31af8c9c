#pragma once
// Pictures whose alpha and subject colours are known, because they were rendered: the truth that solving is held against.

#include <cstdint>
#include <string>
#include <vector>

#include "core/image/raster.h"

namespace hseam::truth {

enum class Kind : std::uint8_t { hair, fur, lattice, defocus, motion, veil, solid, mixed };
enum class Ground : std::uint8_t { paper, boards, clouds, pebbles };
/// Values in which subject and ground are averaged: as light falls, or as the picture's sRGB codes.
enum class Mixing : std::uint8_t { linear, encoded };

struct Description {
  std::string name;
  Kind kind = Kind::hair;
  Ground ground = Ground::paper;
  Mixing mixing = Mixing::linear;
  int width = 480, height = 400;
  std::uint64_t seed = 1;
  /// 0: the ground's own colours, 1: turned into the subject's.
  double closeInColour = 0;
};

struct Matte {
  std::string name;
  image::Raster<float> picture, alpha, colours;  // sRGB-encoded 0..1, 8-bit steps; alpha 0..1; colours hold where alpha > 0
  image::Raster<std::uint8_t> band;              // undecided: alpha within 0.02..0.98, dilated by 12 px
};

/// Drawn with nine samples a pixel; then the camera: a blur of 0.6 px of colour times alpha and of alpha alike, noise of 0.4 %,
/// rounding to 8 bits. The same for the same description.
Matte rendered(const Description& what);

/// `subject` (sRGB-encoded colours and alpha) over `ground`.
Matte composed(std::string name, const image::Raster<float>& colours, const image::Raster<float>& alpha,
               const image::Raster<float>& ground, Mixing mixing);

/// What kind of edge Kind::mixed has near a place, in px: strands above, blurred on the right, crisp on the left.
enum class EdgeTag : std::uint8_t { solid, soft, hair, between };
EdgeTag edgeTagAt(const Description& what, double x, double y);

/// The band of a known alpha, as in Matte.
image::Raster<std::uint8_t> bandOf(const image::Raster<float>& alpha);

/// What a hurried hand would select: the outline of alpha 0.5, moved in and out by up to `amplitude` px over `correlation` px.
image::Raster<std::uint8_t> roughSelection(const image::Raster<float>& alpha, double amplitude, double correlation,
                                           std::uint64_t seed);

/// Fourteen descriptions that cover kinds, grounds and both ways of mixing.
std::vector<Description> standardCases();

}  // namespace hseam::truth
