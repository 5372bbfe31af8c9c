#pragma once
// Fills a hole from its surroundings: patches found at every scale (Wexler, Shechtman and Irani 2007, with the search of Barnes
// et al. 2009), then larger pieces (He and Sun 2012), joined in the gradient domain (Perez et al. 2003).

#include "core/image/tiled_image.h"
#include "core/repair/copied_from.h"
#include "core/repair/structure_line.h"

namespace hseam::repair {

struct FillOptions {
  std::uint32_t seed = 1;                 // another seed gives another candidate
  image::TiledImage from = {};            // grey8, > 127: where patches may come from; null: anywhere outside the hole
  std::vector<StructureLine> lines = {};  // px of the picture: continued across the hole
};

/// hole: grey8 of the picture's size, > 127 = to be filled. Nothing else changes, to the bit; alpha stays. Cost grows with the
/// hole, and with what lies around it as far as it is wide. Errors: conflict (sizes or formats), invalid (nothing to fill from),
/// cancelled, outOfMemory, what reading says. pieces (may be null): receives the largest copied pieces, px of the picture,
/// without those along lines.
base::Result<image::TiledImage> filled(const image::TiledImage& picture, const image::TiledImage& hole,
                                       const FillOptions& options, base::Executor& executor, const base::Progress& progress,
                                       std::vector<CopiedFrom>* pieces = nullptr);

}  // namespace hseam::repair
