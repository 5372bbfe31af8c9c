#pragma once
// What can be read across a cut's outline, and the stretches that follow from it.

#include "core/matte/unrolled.h"

namespace hseam::matte {

/// Solid: crisp. Soft: wide, but even. Hair: strands, by how often coverage rises and falls across the outline.
enum class EdgeKind : std::uint8_t { solid, soft, hair };

struct EdgeReading {
  float softnessPx = 0;  // 10–90 % width of coverage along the normal, up to 0.5 px too wide under 2 px; 0: it does not pass both
  float halo = 0;        // CIEDE2000 of that part of the edge's colour that points from the inside's to the old background's
  EdgeKind kind = EdgeKind::solid;
  float confidence = 0;  // of the kind, 0..1: how far the readings around lie from where it would change
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
/// to each side of the middle row. Over the scene it says how far subject and surroundings lie apart.
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
