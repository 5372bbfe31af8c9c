#include "core/retouch/after_stroke.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/lab.h"

namespace hseam::retouch {
namespace {

double areaOf(const base::Rect& r) {
  return double(r.width) * r.height;
}
double sharedBy(const base::Rect& a, const base::Rect& b) {
  const base::Rect both = a.intersected(b);
  return both.empty() ? 0 : areaOf(both) / std::max(1.0, std::min(areaOf(a), areaOf(b)));
}

}  // namespace

std::vector<Copied> repeatsOf(const Copied& copy, const std::vector<Copied>& earlier) {
  constexpr double kMost = 0.6, kSeenOnce = 0.5;
  std::vector<Copied> out;
  for (const Copied& e : earlier) {
    if (sharedBy(copy.from, e.from) > kMost && sharedBy(copy.to, e.to) < kSeenOnce) out.push_back(e);
  }
  return out;
}

double stepAtRim(const image::Raster<float>& shown, const image::Raster<std::uint8_t>& coverage, int px) {
  const int w = shown.width(), h = shown.height();
  cv::Mat covered(h, w, CV_8U), lightness(h, w, CV_32F);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      covered.ptr<std::uint8_t>(y)[x] = *coverage.at(x, y) > 127 ? 255 : 0;
      const float* c = shown.at(x, y);
      lightness.ptr<float>(y)[x] = float(image::labFromEncoded({double(c[0]), double(c[1]), double(c[2])}).l);
    }
  }
  const cv::Mat disc = cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * px + 1, 2 * px + 1});
  cv::Mat wider, narrower;
  cv::dilate(covered, wider, disc);
  cv::erode(covered, narrower, disc);
  // Means of either side round each pixel of the rim, over a window that holds both.
  const cv::Mat inner = covered & ~narrower, outer = wider & ~covered;
  const auto meanOf = [&](const cv::Mat& side) {
    cv::Mat weight, sum;
    side.convertTo(weight, CV_32F, 1.0 / 255);
    cv::multiply(lightness, weight, sum);
    const cv::Size window(8 * px + 1, 8 * px + 1);
    cv::boxFilter(sum, sum, CV_32F, window, {-1, -1}, false, cv::BORDER_CONSTANT);
    cv::boxFilter(weight, weight, CV_32F, window, {-1, -1}, false, cv::BORDER_CONSTANT);
    return std::pair(sum, weight);
  };
  const auto [inSum, inCount] = meanOf(inner);
  const auto [outSum, outCount] = meanOf(outer);
  std::vector<double> steps;
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const float a = inCount.ptr<float>(y)[x], b = outCount.ptr<float>(y)[x];
      if (inner.ptr<std::uint8_t>(y)[x] && a >= 1 && b >= 1)
        steps.push_back(double(inSum.ptr<float>(y)[x] / a) - double(outSum.ptr<float>(y)[x] / b));
    }
  }
  if (steps.empty()) return 0;
  const auto fifth = std::max<std::size_t>(1, steps.size() / 5);
  std::nth_element(steps.begin(), steps.begin() + long(fifth - 1), steps.end(),
                   [](double a, double b) { return std::abs(a) > std::abs(b); });
  double sum = 0;
  for (std::size_t i = 0; i < fifth; ++i) sum += steps[i];
  return sum / double(fifth);
}

}  // namespace hseam::retouch
