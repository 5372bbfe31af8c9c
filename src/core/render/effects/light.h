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
inline void toLight(Planes& p) {
  for (int c = 0; c < 3; ++c) {
    float* v = p.colour(c);
    const float* a = p.alpha();
    for (int i = 0; i < p.count(); ++i) v[i] = a[i] > 0 ? scene::linearOf(v[i]) * a[i] : 0.f;
  }
}
/// And back.
inline void fromLight(Planes& p) {
  for (int c = 0; c < 3; ++c) {
    float* v = p.colour(c);
    const float* a = p.alpha();
    for (int i = 0; i < p.count(); ++i) v[i] = a[i] > 1e-5f ? scene::encodedOf(scene::held(v[i] / a[i])) : 0.f;
  }
  for (int i = 0; i < p.count(); ++i) p.alpha()[i] = scene::held(p.alpha()[i]);
}

/// In place, border repeated.
void gaussianBlur(cv::Mat plane, double sigma);

}  // namespace hseam::render::effects
