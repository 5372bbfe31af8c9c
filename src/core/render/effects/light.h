#pragma once
// Conversion of planes to linear light, multiplied by coverage, for blurs.

#include <opencv2/core.hpp>

#include "core/render/effects/effect.h"
#include "core/scene/colour_functions.h"

namespace hseam::render::effects {

inline cv::Mat matOf(Planes& p, int c, const base::Rect& area) {
  return {area.height, area.width, CV_32F, p.colour(c)};
}

/// Straight encoded → linear, times coverage.
void toLight(Planes& p);
/// And back: light over 1 ends at 1, coverage is held to 0..1.
void fromLight(Planes& p);
/// Restores highlights before a blur: light whose strongest channel (times coverage) is above `from` is raised, by a factor up to
/// 1 + most at 1.
void giveBackClipped(Planes& p, float from, float most);

/// In place, border repeated.
void gaussianBlur(cv::Mat plane, double sigma);

}  // namespace hseam::render::effects
