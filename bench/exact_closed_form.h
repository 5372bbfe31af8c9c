#pragma once

#include "core/image/raster.h"

namespace hseam::bench {

/// A plain closed-form matting of its own (Levin, Lischinski, Weiss 2008, eps 1e-7), solved exactly by a sparse Cholesky
/// factorisation: the yardstick for the product's solver, sharing no code with it.
image::Raster<float> exactClosedForm(const image::Raster<float>& picture, const image::Raster<std::uint8_t>& band);

}  // namespace hseam::bench
