#include "core/measure/sharpness.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace hseam::measure {
namespace {

constexpr double kLeastStep = 20;        // L*
constexpr double kPixel = 1.0 / 12;      // variance of a pixel's own area
constexpr double kDifference = 1.0 / 3;  // variance that a difference over two px adds
constexpr double kAgreement = 0.12;      // of the third width's slope with what the two others say
constexpr double kWidest = 10;           // px; what reads wider is shading
constexpr double kFewPlaces = 12;
constexpr double kFewOfRoot = 0.25;  // of the root of the part's area, for the narrowest

struct Slopes {
  cv::Mat dx, dy, size;
};
Slopes slopesOf(const cv::Mat& lightness, double sigma) {
  Slopes s;
  cv::Mat blurred;
  cv::GaussianBlur(lightness, blurred, {}, sigma, sigma, cv::BORDER_REPLICATE);
  const cv::Mat across = (cv::Mat_<float>(1, 3) << -0.5f, 0.f, 0.5f), down = (cv::Mat_<float>(3, 1) << -0.5f, 0.f, 0.5f);
  cv::filter2D(blurred, s.dx, CV_32F, across);
  cv::filter2D(blurred, s.dy, CV_32F, down);
  cv::magnitude(s.dx, s.dy, s.size);
  return s;
}

// Blurs read at places where the slope is largest along its own direction.
std::vector<float> blursAt(const cv::Mat& lightness, const cv::Mat& counts, double width) {
  const double s1 = width, s2 = 2 * width, s3 = 1.45 * width;
  const double v1 = s1 * s1 + kDifference, v2 = s2 * s2 + kDifference, v3 = s3 * s3 + kDifference;
  const Slopes a = slopesOf(lightness, s1), b = slopesOf(lightness, s2), c = slopesOf(lightness, s3);
  cv::Mat far;
  cv::copyMakeBorder(counts, far, 1, 1, 1, 1, cv::BORDER_CONSTANT, 0);
  cv::distanceTransform(far, far, cv::DIST_L2, 3);
  const float reach = float(2.2 * s2);
  std::vector<float> out;
  for (int y = 1; y + 1 < lightness.rows; ++y) {
    const float* g = a.size.ptr<float>(y);
    for (int x = 1; x + 1 < lightness.cols; ++x) {
      // The least slope that the smallest step has at a blur of four widths.
      if (g[x] < float(kLeastStep / std::sqrt(2 * CV_PI * (16 * s1 * s1 + v1)))) continue;
      if (far.ptr<float>(y + 1)[x + 1] < reach) continue;
      const float ux = a.dx.ptr<float>(y)[x] / g[x], uy = a.dy.ptr<float>(y)[x] / g[x];
      const auto near = [&](const cv::Mat& m, float px, float py) {
        const int ix = std::clamp(int(std::floor(px)), 0, m.cols - 2), iy = std::clamp(int(std::floor(py)), 0, m.rows - 2);
        const float fx = px - float(ix), fy = py - float(iy);
        const float *r0 = m.ptr<float>(iy), *r1 = m.ptr<float>(iy + 1);
        return double((r0[ix] * (1 - fx) + r0[ix + 1] * fx) * (1 - fy) + (r1[ix] * (1 - fx) + r1[ix + 1] * fx) * fy);
      };
      const float fx = float(x), fy = float(y);
      if (near(a.size, fx + ux, fy + uy) > double(g[x]) || near(a.size, fx - ux, fy - uy) > double(g[x])) continue;
      // The edge lies between pixels: its slope is a normal curve, a parabola by logarithm.
      double shift = 0;
      const auto peak = [&](const cv::Mat& m, bool finds) {
        const double before = std::log(std::max(1e-6, near(m, fx - ux, fy - uy))),
                     here = std::log(std::max(1e-6, double(m.ptr<float>(y)[x]))),
                     after = std::log(std::max(1e-6, near(m, fx + ux, fy + uy)));
        const double slope = (after - before) / 2, bend = after - 2 * here + before;
        if (finds && bend < -1e-9) shift = std::clamp(-slope / bend, -0.5, 0.5);
        return std::exp(here + slope * shift + bend / 2 * shift * shift);
      };
      const double g1 = peak(a.size, true), g2 = peak(b.size, false), g3 = peak(c.size, false), r = g1 / std::max(1e-9, g2);
      if (r <= 1.004) continue;
      const double variance = (v2 - r * r * v1) / (r * r - 1);
      if (variance < -0.2) continue;
      const double held = std::max(variance, 0.0), step = g1 * std::sqrt(2 * CV_PI * (held + v1));
      if (step < kLeastStep) continue;
      const double expected = g1 * std::sqrt((held + v1) / (held + v3));
      if (std::abs(g3 / expected - 1) > kAgreement * (r - 1)) continue;
      out.push_back(float(std::sqrt(std::max(0.0, held - kPixel))));
    }
  }
  return out;
}

}  // namespace

Sharpness sharpnessOf(const Part& part) {
  const int w = part.colours.width(), h = part.colours.height();
  image::Raster<float> l = lightnessOf(part.colours);
  const cv::Mat lightness(h, w, CV_32F, l.samples().data());
  cv::Mat counts(h, w, CV_8U);
  for (int y = 0; y < h; ++y) std::copy_n(part.counts.at(0, y), w, counts.ptr<std::uint8_t>(y));
  const double root = std::sqrt(double(cv::countNonZero(counts)));
  std::vector<float> best;
  for (const double width : {1.0, 2.2, 5.0}) {
    std::vector<float> found = blursAt(lightness, counts, width);
    const double few = std::max(kFewPlaces, kFewOfRoot * root * (1 + (width - 1) / 2));
    if (double(found.size()) < few || double(quantile(found, 0.3)) > kWidest) continue;
    best = std::move(found);
    if (double(quantile(best, 0.3)) < 2.2 * width) break;
  }
  if (best.empty()) {
    const Reading none = unavailable("there are too few clean edges in it");
    return {none, none, 0};
  }
  const double low = double(quantile(best, 0.1)), high = double(quantile(best, 0.5)),
               spread = std::max(0.03, (high - low) / 2 / std::sqrt(std::max(1.0, double(best.size()) / 40)));
  return {available(double(quantile(best, 0.3)), spread), available(low, spread), int(best.size())};
}

}  // namespace hseam::measure
