#pragma once

#include "core/matte/unrolled.h"

namespace hseam::matte {

/// Gaussian smoothing, sigmaPx, of the values of an outline's places along each closed outline; weights (may be null) weight the
/// values.
std::vector<double> smoothedAlong(const Unrolled& outline, const std::vector<double>& values, double sigmaPx,
                                  const std::vector<double>* weights = nullptr);

}  // namespace hseam::matte
