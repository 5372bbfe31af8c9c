#pragma once

#include "core/matte/unrolled.h"

namespace hseam::matte {

/// Values of an outline's places, averaged along each outline (closed, so round its end) with a Gaussian of `sigmaPx`; weights,
/// if there are any, say how much each value counts.
std::vector<double> smoothedAlong(const Unrolled& outline, const std::vector<double>& values, double sigmaPx,
                                  const std::vector<double>* weights = nullptr);

}  // namespace hseam::matte
