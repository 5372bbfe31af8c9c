#pragma once
// A hole is filled with what the surroundings show: patches of them, found at every scale (Wexler, Shechtman and Irani 2007, with
// the search of Barnes et al. 2009), then put together from larger pieces (He and
// Sun 2012) and joined in gradients (Perez et al. 2003).

#include "core/image/tiled_image.h"
#include "core/repair/copied_from.h"
#include "core/repair/structure_line.h"

namespace hseam::repair {

struct FillOptions {
  std::uint32_t seed = 1;                 // another one: another candidate
  image::TiledImage from = {};            // grey8, > 127: patches come from here alone; null: from anywhere that is no hole
  std::vector<StructureLine> lines = {};  // px of the picture: they go on across the hole
};

/// hole: grey8 of the picture's size, > 127 = to be filled. Nothing else changes, to the bit; alpha stays. Cost grows with the
/// hole, and with what lies around it as far as it is wide. Errors: conflict (sizes or formats), invalid (nothing to fill from),
/// cancelled, outOfMemory, what reading says. pieces: if asked for, the largest pieces that were copied, px of the picture; what
/// goes on along lines is not among them.
base::Result<image::TiledImage> filled(const image::TiledImage& picture, const image::TiledImage& hole,
                                       const FillOptions& options, base::Executor& executor, const base::Progress& progress,
                                       std::vector<CopiedFrom>* pieces = nullptr);

}  // namespace hseam::repair
