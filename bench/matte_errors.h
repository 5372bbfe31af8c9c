#pragma once

#include "core/image/raster.h"

namespace hseam::bench {

/// Errors of an alpha over the undecided pixels (Rhemann et al. 2009, "A Perceptually Motivated Online Benchmark for Image
/// Matting"): sums of absolute differences, of gradient errors (Gaussian derivative of sigma 1.4, squared) and of
/// connectivity errors (steps of 0.1, theta 0.15), each in thousands; mean of squares times 1000.
struct MatteErrors {
  double sad = 0, mse = 0, gradient = 0, connectivity = 0;
};
MatteErrors matteErrors(const image::Raster<float>& alpha, const image::Raster<float>& truth,
                        const image::Raster<std::uint8_t>& band);

}  // namespace hseam::bench
