#pragma once
// Estimates of alpha from single pixels' colours, without neighbours.

#include <vector>

#include "core/matte/local_colours.h"

namespace hseam::matte {

struct Evidence {
  float alpha = 0.5f;
  float deviation = 0.29f;  // standard, of alpha
  float confidence = 0;     // 0..1: narrowness of the likelihood; 0 = uniform
  float logLikelihood = 0;  // natural logarithm of the density of the pixel's colour, over all alpha
};

/// For every undecided pixel the mean of alpha under the likelihood of its colour, subject and background being normally
/// distributed as near it (the likelihood of Chuang, Curless, Salesin, Szeliski 2001, "A Bayesian Approach to Digital Matting",
/// here integrated over subject and background instead of maximised). picture: 3 channels, in the values that mix linearly.
std::vector<Evidence> colourEvidence(const image::Raster<float>& picture, const LocalColours& colours,
                                     const std::vector<int>& pixels, base::Executor& executor);

}  // namespace hseam::matte
