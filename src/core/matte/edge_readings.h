#pragma once
// Readings across a cut's outline, and the stretches of one kind of edge.

#include "core/matte/unrolled.h"

namespace hseam::matte {

/// Solid: crisp. Soft: wide but smooth. Hair: strands, told by how often coverage rises and falls across the outline.
enum class EdgeKind : std::uint8_t { solid, soft, hair };

struct EdgeReading {
  float softnessPx = 0;  // 10–90 % width of coverage along the normal, up to 0.5 px too wide under 2 px; 0: it does not pass both
  float halo = 0;        // CIEDE2000 of the part of the edge's colour difference that points towards the old background
  EdgeKind kind = EdgeKind::solid;
  float confidence = 0;  // of the kind, 0..1
};

/// Readings for places [first, first + count). shown: the colours the layer shows; source: the picture as it came.
/// Reach: 24 px to each side. Errors: what reading says.
base::Result<std::vector<EdgeReading>> edgeReadings(const Unrolled& outline, int first, int count, const image::TiledImage& mask,
                                                    const image::TiledImage& shown, const image::TiledImage& source);

/// The same without the halo, from coverage alone: softness, kind, confidence. midPx, if asked for: where coverage passes one
/// half on the normal, outwards of the place; where it does so several times, the middle of the first and the last.
base::Result<std::vector<EdgeReading>> edgeForms(const Unrolled& outline, int first, int count, const image::TiledImage& mask,
                                                 std::vector<double>* midPx = nullptr);

/// The step of tone across the edge for each column of a strip (unrolled.h), L* outside minus L* inside: the mean of 5 to 14 px
/// to each side of the middle row. On a rendered scene: the contrast between subject and surroundings.
std::vector<float> toneSteps(const image::Raster<std::uint8_t>& strip);

/// A run of places of one kind on one outline.
struct Stretch {
  int first = 0, count = 0;
  EdgeKind kind = EdgeKind::solid;
  float confidence = 0;  // mean
};

/// Readings of all places as stretches; runs shorter than 16 px go to the longer of their neighbours.
std::vector<Stretch> stretchesOf(const Unrolled& outline, const std::vector<EdgeReading>& readings);

/// "solid", "soft" or "hair".
const char* nameOf(EdgeKind kind);

}  // namespace hseam::matte
