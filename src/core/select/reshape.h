#pragma once

#include "core/base/executor.h"
#include "core/image/tiled_image.h"

namespace hseam::select {

/// Moves the half-way line of a grey8 coverage outwards (px > 0: wider) or inwards (px < 0: tighter), measured in px of the
/// picture, round at corners; the new edge is one px soft. Sub-pixel amounts count. Errors: what reading says.
base::Result<image::TiledImage> widened(const image::TiledImage& coverage, double px, base::Executor& executor);

/// Gaussian with a standard deviation of sigmaPx (0..200); outside the picture its edge is repeated.
base::Result<image::TiledImage> softened(const image::TiledImage& coverage, double sigmaPx, base::Executor& executor);

/// Removes corners and notches smaller than about px; straight edges stay where they are, one px soft.
base::Result<image::TiledImage> rounded(const image::TiledImage& coverage, double px, base::Executor& executor);
/// A strip px wide on the half-way line.
base::Result<image::TiledImage> ring(const image::TiledImage& coverage, double px, base::Executor& executor);
/// Fills gaps and holes narrower than px; no selected pixel is lost.
base::Result<image::TiledImage> gapsClosed(const image::TiledImage& coverage, double px, base::Executor& executor);
/// Removes separate parts smaller than areaPx.
base::Result<image::TiledImage> withoutIslands(const image::TiledImage& coverage, double areaPx, base::Executor& executor);

}  // namespace hseam::select
