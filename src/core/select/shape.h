#pragma once
// Hand-drawn outlines, and combining coverages.

#include <vector>

#include "core/base/executor.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

/// A closed outline in px of the picture; it need not be convex, overlaps count as inside (non-zero winding).
using Outline = std::vector<base::Point>;
Outline rectangleOutline(base::Point a, base::Point b);
/// The ellipse that touches the sides of that rectangle.
Outline ellipseOutline(base::Point a, base::Point b);

/// The area of every pixel inside the outline, to 1/255 (16 sample rows a pixel, exact along each). The raster covers `area`.
image::Raster<std::uint8_t> rasterise(const Outline& outline, const base::Rect& area);

enum class Combine { replace, add, takeAway, overlap };

/// Coverage after combining: add = the larger, take away = the smaller of it and the rest, overlap = the smaller.
/// Pixels of `part` stand at `area`; outside it the part is empty. base may be null (nothing selected) with `size`, `memory`.
base::Result<image::TiledImage> combined(const image::TiledImage& base, const base::Rect& area,
                                         const image::Raster<std::uint8_t>& part, Combine how, base::Executor& executor);
base::Result<image::TiledImage> combined(const image::TiledImage& base, const Outline& outline, Combine how,
                                         base::Executor& executor);

/// 255 − every value. Grey8.
base::Result<image::TiledImage> inverted(const image::TiledImage& coverage, base::Executor& executor);

}  // namespace hseam::select
