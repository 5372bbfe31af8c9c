#pragma once
// Solves alpha and the subject's own colours from a picture and its band.

#include <optional>
#include <string>

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace hseam::matte {

struct SolveOptions {
  double eps = 1e-7;             // of the Laplacian
  double evidenceWeight = 2e-3;  // weight of the colour evidence, times the square of its confidence
  double tolerance = 2e-4;       // relative residual
  int maxIterations = 400;       // at the finest level
  bool pressTraces = true;       // traces.h
  bool learned = true;           // learned_alpha.h, if the network is available
  /// Solution::encodedShare of an earlier solution, if known: detecting it is half of the work for a small band.
  std::optional<double> encodedShare = {};
};

struct Solution {
  image::Raster<float> alpha;      // 0..1
  double encodedShare = 0;         // how much the picture looks mixed in its encoded values, 0..1
  image::Raster<float> certainty;  // of the colour evidence of each undecided pixel, 0..1; 0 elsewhere
  std::string missing = {};        // a sentence, if the learned network was wanted but is not available
};

/// Alpha for every pixel: 0 and 1 where the band says so. picture: 3 channels, sRGB-encoded 0..1. Closed-form matting with colour
/// evidence as a weak data term, from coarse to fine: each level starts from the one above, so that cost grows with the band, not
/// with the picture. How the picture was mixed (mixing.h) is detected on a level of at most 300 000 undecided pixels; a smaller
/// band uses the weighted mean of both solutions. Errors: cancelled, invalid (the band names no subject or no background).
base::Result<Solution> solveBand(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band,
                                 const SolveOptions& options, base::Executor& executor, const base::Progress& progress);
/// The alpha alone.
base::Result<image::Raster<float>> solveAlpha(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band,
                                              const SolveOptions& options, base::Executor& executor,
                                              const base::Progress& progress);

struct Cut {
  image::TiledImage alpha;   // grey8 or grey16, as asked
  image::TiledImage clean;   // the subject's own colours, in the source's format; tiles without band are the source's own
  double encodedShare = 0;   // as in Solution
  std::string missing = {};  // likewise
};

/// Both, for a whole tiled picture: reads only the band and its surroundings.
base::Result<Cut> solveCut(const image::TiledImage& source, const image::TiledImage& band, const SolveOptions& options,
                           image::PixelFormat alphaFormat, base::Executor& executor, const base::Progress& progress);

/// Keeps painted changes: where `mask` equals the old solution it takes the new one, elsewhere it stays.
/// mask may be null (nothing painted). All grey8 and of one size.
base::Result<image::TiledImage> maskAfterSolving(const image::TiledImage& mask, const image::TiledImage& oldAlpha,
                                                 const image::TiledImage& newAlpha, base::Executor& executor);

}  // namespace hseam::matte
