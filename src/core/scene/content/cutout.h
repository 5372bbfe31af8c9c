#pragma once
// How a subject is cut out of its picture. All inputs are kept, so that the cut can be solved again.

#include <string>
#include <vector>

#include "core/image/tiled_image.h"

namespace hseam::scene {

/// A selection kept under a name.
struct NamedSelection {
  std::string name;
  image::TiledImage coverage;  // grey8, px of the layer
};

/// Pictures in layer px. A picture holds it behind a base::SharedValue.
struct Cutout {
  image::TiledImage selection;  // grey8 coverage chosen by hand or guess; null = none
  image::TiledImage hints;      // grey8: 255 subject, 0 background, 128 nothing said
  image::TiledImage band;       // grey8: 255 subject, 0 background, 128 undecided
  image::TiledImage alpha;      // grey8: the last solution, before any painting
  image::TiledImage shaped;     // grey8: alpha as the edge plan wants it; null = alpha itself
  image::TiledImage clean;      // the subject's own colours, in the source's format; shares untouched tiles with it
  std::string recipe;           // JSON object owned by the matte folder: how band and alpha were made
  std::vector<NamedSelection> saved;
  std::string edgePlan;  // JSON object owned by the matte folder: what the user wants of the edge; empty = nothing
  bool useClean = true;  // show the clean colours
  /// The mask before painting.
  const image::TiledImage& outcome() const { return shaped.isNull() ? alpha : shaped; }
};

}  // namespace hseam::scene
