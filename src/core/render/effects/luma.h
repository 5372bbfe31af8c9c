#pragma once
// For effects that change luma and keep chroma.

#include <opencv2/imgproc.hpp>

#include "core/render/effects/light.h"

namespace hseam::render::effects {

/// Luma of the encoded values, and the coverage that weighs it.
struct Tones {
  cv::Mat luma, coverage;
};
inline Tones tonesOf(Planes& p, const base::Rect& area) {
  Tones t{cv::Mat(area.height, area.width, CV_32F), matOf(p, 3, area)};
  auto* l = t.luma.ptr<float>();
  for (int i = 0; i < p.count(); ++i) l[i] = 0.3f * p.colour(0)[i] + 0.59f * p.colour(1)[i] + 0.11f * p.colour(2)[i];
  return t;
}

/// blur(v · a) / blur(a); where nothing is covered, v.
template <class Blur>
cv::Mat covered(const cv::Mat& v, const cv::Mat& a, const Blur& blur) {
  cv::Mat sum = v.mul(a), weight = a.clone();
  blur(sum), blur(weight);
  cv::Mat out(v.size(), CV_32F);
  for (int y = 0; y < v.rows; ++y) {
    for (int x = 0; x < v.cols; ++x) {
      const float w = weight.at<float>(y, x);
      out.at<float>(y, x) = w > 1e-4f ? sum.at<float>(y, x) / w : v.at<float>(y, x);
    }
  }
  return out;
}

/// Adds to a pixel's luma, its chroma kept within what 0..1 holds.
inline void addLuma(Planes& p, int i, float d) {
  float c[3] = {p.colour(0)[i] + d, p.colour(1)[i] + d, p.colour(2)[i] + d};
  scene::clipKeepingLuma(c);
  for (int k = 0; k < 3; ++k) p.colour(k)[i] = c[k];
}

}  // namespace hseam::render::effects
