#include "core/measure/maps.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::measure {
namespace {

constexpr float kGain = 12;
constexpr double kWindow = 4;           // standard deviation, px
constexpr float kNoDetail = 6.f / 255;  // of coarse detail: beside an edge its tail is no detail of its own
// Ratios of fine to coarse detail of a picture blurred by 2 px, and of one as a good lens and a sensor give it.
constexpr float kSoft = 0.12f, kSharp = 0.55f;

cv::Mat mapLuma(const image::Raster<float>& r) {
  cv::Mat l(r.height(), r.width(), CV_32F);
  for (int y = 0; y < r.height(); ++y) {
    for (int x = 0; x < r.width(); ++x) {
      const float* c = r.at(x, y);
      l.ptr<float>(y)[x] = 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
    }
  }
  return l;
}

// The mean square of differences over `step` px, across and down.
cv::Mat detail(const cv::Mat& l, int step) {
  cv::Mat out(l.size(), CV_32F);
  for (int y = 0; y < l.rows; ++y) {
    const float *row = l.ptr<float>(y), *below = l.ptr<float>(std::min(l.rows - 1, y + step));
    for (int x = 0; x < l.cols; ++x) {
      const float across = row[std::min(l.cols - 1, x + step)] - row[x], down = below[x] - row[x];
      out.ptr<float>(y)[x] = across * across + down * down;
    }
  }
  cv::GaussianBlur(out, out, {}, kWindow, kWindow, cv::BORDER_REPLICATE);
  return out;
}

}  // namespace

image::Raster<float> grainMap(const image::Raster<float>& colours) {
  const cv::Mat l = mapLuma(colours);
  cv::Mat smooth;
  cv::GaussianBlur(l, smooth, {3, 3}, 0, 0, cv::BORDER_REPLICATE);
  image::Raster<float> out(l.cols, l.rows, 1);
  for (int y = 0; y < l.rows; ++y) {
    for (int x = 0; x < l.cols; ++x)
      *out.at(x, y) = std::clamp(0.5f + kGain * (l.ptr<float>(y)[x] - smooth.ptr<float>(y)[x]), 0.f, 1.f);
  }
  return out;
}

image::Raster<float> focusMap(const image::Raster<float>& colours) {
  const cv::Mat l = mapLuma(colours), fine = detail(l, 1), coarse = detail(l, 4);
  image::Raster<float> out(l.cols, l.rows, 1);
  for (int y = 0; y < l.rows; ++y) {
    for (int x = 0; x < l.cols; ++x) {
      const float c = std::sqrt(coarse.ptr<float>(y)[x]), f = std::sqrt(fine.ptr<float>(y)[x]);
      *out.at(x, y) = c < kNoDetail ? -1 : std::clamp((f / c - kSoft) / (kSharp - kSoft), 0.f, 1.f);
    }
  }
  return out;
}

}  // namespace hseam::measure
