#pragma once
// Where a cut-out subject stands: its lowest covered places.

#include <optional>
#include <vector>

#include "core/image/tiled_image.h"

namespace hseam::matte {

struct Standing {
  base::Rect covered;              // px of the picture: what is covered by at least one half
  base::Point foot;                // centre of what touches the ground
  std::vector<base::Point> line;   // along what touches, left to right; gaps of up to a tenth of the width are bridged
  std::vector<base::Point> below;  // its lowest places in up to 64 columns, left to right
};

/// coverage: grey8 or grey16. What lies within 2.5 % of the subject's height of its lowest px touches the ground. Read at a level
/// of about 1000 px a side. Empty if nothing is covered. Errors: what reading says.
base::Result<std::optional<Standing>> standingOf(const image::TiledImage& coverage);
/// Of one level's coverage (one channel); places are px of the whole.
std::optional<Standing> standingIn(const image::Raster<float>& coverage, int level);

}  // namespace hseam::matte
