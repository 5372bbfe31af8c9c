#pragma once
// Planes as light: linear, multiplied by coverage, as blurs want them.

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
/// Light that a camera cut off at 1 was brighter: where a pixel's strongest channel (light times coverage) reaches `from`, its
/// light grows, by 1 + most at 1.
void giveBackClipped(Planes& p, float from, float most);

/// In place, border repeated.
void gaussianBlur(cv::Mat plane, double sigma);

}  // namespace hseam::render::effects
