#pragma once

#include "core/base/progress.h"
#include "core/image/tiled_image.h"
#include "core/path/path.h"

namespace hseam::matte {

struct EdgePath {
  path::Path path;         // outer outlines add and stand first, holes take away
  double deviationPx = 0;  // the largest distance of the smoothed outline from the curve
};

/// A selection's outline as a path of few points. First the outline moves onto the picture's own edge where there is one within 6
/// px (edge_fit); elsewhere it is smoothed by 1.2 px along, which removes pixel steps and keeps corners. An outline of which less
/// than half lies near an edge stays as it is. Then cubics are laid through it within tolerancePx (path/fit.h). selection: grey8
/// of the picture's size; outlines shorter than 24 px are left out. picture null: the path follows the selection as it is.
/// Errors: cancelled, what reading says.
base::Result<EdgePath> pathAlongEdge(const image::TiledImage& selection, const image::TiledImage& picture, double tolerancePx,
                                     const base::Progress& progress);

}  // namespace hseam::matte
