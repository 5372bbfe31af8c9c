#pragma once

#include "core/base/progress.h"
#include "core/image/tiled_image.h"
#include "core/path/path.h"

namespace hseam::matte {

/// The path moved onto the picture's own edge: along each outline the edge is found to a fraction of a pixel across it
/// (edge_fit, in linear light), and every node goes there along the normal with its handles, by withinPx (0..8) at the most, at
/// corners by half as much again. Where both sides look alike nodes stay. The number of nodes does not change. Outlines of less
/// than 16 px stay. Errors: cancelled, what reading says.
base::Result<path::Path> snappedToEdges(const path::Path& path, const image::TiledImage& picture, double withinPx,
                                        const base::Progress& progress);

}  // namespace hseam::matte
