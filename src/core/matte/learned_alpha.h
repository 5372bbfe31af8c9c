#pragma once

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/raster.h"

namespace hseam::matte {

/// The solver's result with its inputs.
struct SolvedAlpha {
  const image::Raster<float>& picture;      // 3 channels, encoded sRGB 0..1
  const image::Raster<std::uint8_t>& band;  // as for the solver
  const image::Raster<float>& alpha;        // 0..1
  const image::Raster<float>& certainty;    // of the colour evidence, 0..1, of the undecided pixels
};

/// Corrects a solved alpha by a network (models/matting) that has learned what edges look like. 0..1; decided pixels stay. Works
/// in squares of a fixed size on a fixed grid, so that the same picture gives the same alpha. A band over more than 120 squares
/// is corrected at half size and the difference is enlarged. Errors: notFound, corrupt, unsupported (see learned/network.h),
/// cancelled, outOfMemory.
base::Result<image::Raster<float>> learnedAlpha(const SolvedAlpha& solved, base::Executor& executor,
                                                const base::Progress& progress);

}  // namespace hseam::matte
