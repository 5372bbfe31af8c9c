#pragma once

#include "core/base/executor.h"
#include "core/base/progress.h"
#include "core/image/raster.h"

namespace hseam::matte {

/// What was solved from colours, as the equations see it.
struct SolvedAlpha {
  const image::Raster<float>& picture;      // 3 channels, encoded sRGB 0..1
  const image::Raster<std::uint8_t>& band;  // as for the solver
  const image::Raster<float>& alpha;        // 0..1
  const image::Raster<float>& certainty;    // of what single colours say, 0..1, of the undecided pixels
};

/// The alpha as a network (models/matting) corrects it that was taught what edges look like: most are crisp, hair runs on in its
/// direction, a texture of the ground is no coverage. 0..1; decided pixels stay. In squares of a fixed size that lie the same way
/// for one picture, so that the same picture gives the same alpha; a band over more than 120 of them
/// is corrected at half its size, and the difference carried up. Errors: notFound, corrupt, unsupported (see
/// learned/network.h), cancelled, outOfMemory.
base::Result<image::Raster<float>> learnedAlpha(const SolvedAlpha& solved, base::Executor& executor,
                                                const base::Progress& progress);

}  // namespace hseam::matte
