// A blur turned back: a Gaussian's inverse as far as noise allows (Wiener 1949), along rows and columns, on encoded luma.

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/effects/luma.h"

namespace hseam::render::effects {
namespace {

constexpr double kWhole = 4, kEnd = 6;  // standard deviations: up to here the kernel counts fully, here it ends
constexpr double kExtremes = 2;         // standard deviations: what lies around is looked at for the darkest and the lightest
constexpr float kBeyond = 0.5f;         // of their difference: so far values may come to lie beyond them

// W = (1 + e) H / (H² + e) with H = exp(−2π²σ²f²), brought back to px; its sum is 1.
cv::Mat kernelOf(double sigma, double held) {
  constexpr int kSteps = 512;
  const int reach = int(std::ceil(kEnd * sigma));
  cv::Mat kernel(1, 2 * reach + 1, CV_32F);
  double sum = 0;
  std::vector<double> half(std::size_t(reach) + 1);
  for (int n = 0; n <= reach; ++n) {
    double value = 0;
    for (int i = 0; i < kSteps; ++i) {
      const double f = 0.5 * (i + 0.5) / kSteps, h = std::exp(-2 * CV_PI * CV_PI * sigma * sigma * f * f);
      value += (1 + held) * h / (h * h + held) * std::cos(2 * CV_PI * f * n) / kSteps;
    }
    const double fading = std::clamp((n / sigma - kWhole) / (kEnd - kWhole), 0.0, 1.0);
    half[std::size_t(n)] = value * (0.5 + 0.5 * std::cos(CV_PI * fading));
    sum += (n == 0 ? 1 : 2) * half[std::size_t(n)];
  }
  for (int n = -reach; n <= reach; ++n) kernel.at<float>(0, n + reach) = float(half[std::size_t(std::abs(n))] / sum);
  return kernel;
}

}  // namespace

void deblur(const Values& v, const EffectWindow& w, Planes& p) {
  const double sigma = w.px(v[0]);
  if (sigma < 0.2) return;
  const Tones t = tonesOf(p, w.area);
  // What is not covered goes on as what is.
  cv::Mat filled = covered(t.luma, t.coverage, [&](cv::Mat& m) { gaussianBlur(m, sigma); });
  for (int y = 0; y < filled.rows; ++y) {
    const float *a = t.coverage.ptr<float>(y), *own = t.luma.ptr<float>(y);
    float* f = filled.ptr<float>(y);
    for (int x = 0; x < filled.cols; ++x) f[x] = a[x] * own[x] + (1 - a[x]) * f[x];
  }
  const cv::Mat kernel = kernelOf(sigma, v[1]);
  cv::Mat sharp, darkest, lightest;
  cv::sepFilter2D(filled, sharp, CV_32F, kernel, kernel, cv::Point(-1, -1), 0, cv::BORDER_REPLICATE);
  const int around = std::max(1, int(std::ceil(kExtremes * sigma)));
  const cv::Mat square = cv::getStructuringElement(cv::MORPH_RECT, cv::Size(2 * around + 1, 2 * around + 1));
  cv::erode(filled, darkest, square, cv::Point(-1, -1), 1, cv::BORDER_REPLICATE);
  cv::dilate(filled, lightest, square, cv::Point(-1, -1), 1, cv::BORDER_REPLICATE);
  for (int i = 0; i < p.count(); ++i) {
    const float low = darkest.ptr<float>()[i], high = lightest.ptr<float>()[i], slack = kBeyond * (high - low);
    addLuma(p, i, std::clamp(sharp.ptr<float>()[i], low - slack, high + slack) - t.luma.ptr<float>()[i]);
  }
}

}  // namespace hseam::render::effects
