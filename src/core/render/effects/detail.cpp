// Tones against their surroundings. Coverage stays, and only covered pixels count as surroundings.

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/effects/luma.h"

namespace hseam::render::effects {
namespace {

// An edge-keeping mean of a plane: the guided filter of a picture by itself (He, Sun, Tang 2013). eps: the variance from which a
// step counts as an edge.
cv::Mat surroundings(const cv::Mat& v, const cv::Mat& coverage, double radius, double eps) {
  const int r = std::max(1, int(std::lround(radius)));
  const auto box = [r](cv::Mat& m) {
    cv::boxFilter(m, m, CV_32F, cv::Size(2 * r + 1, 2 * r + 1), cv::Point(-1, -1), true, cv::BORDER_REPLICATE);
  };
  const cv::Mat mean = covered(v, coverage, box), square = covered(v.mul(v), coverage, box);
  cv::Mat a(mean.size(), CV_32F), b(mean.size(), CV_32F);
  for (int y = 0; y < mean.rows; ++y) {
    for (int x = 0; x < mean.cols; ++x) {
      const float m = mean.at<float>(y, x), variance = std::max(0.f, square.at<float>(y, x) - m * m);
      a.at<float>(y, x) = variance / (variance + float(eps));
      b.at<float>(y, x) = m * (1 - a.at<float>(y, x));
    }
  }
  return covered(a, coverage, box).mul(v) + covered(b, coverage, box);
}

constexpr double kEdge = 0.02;  // variance: from about 0.14 of the range on a step counts as an edge

}  // namespace

void sharpen(const Values& v, const EffectWindow& w, Planes& p) {
  const double sigma = w.px(v[0]);
  if (sigma < 0.15) return;
  const Tones t = tonesOf(p, w.area);
  const cv::Mat soft = covered(t.luma, t.coverage, [&](cv::Mat& m) { gaussianBlur(m, sigma); });
  const auto amount = float(v[1]), spared = float(v[2]);
  for (int i = 0; i < p.count(); ++i) {
    const float d = t.luma.ptr<float>()[i] - soft.ptr<float>()[i];
    // Below the threshold nothing, from twice of it on all of the difference.
    const float share = spared > 0 ? scene::clamped(std::abs(d) / spared - 1) : 1.f;
    addLuma(p, i, amount * share * d);
  }
}

void localContrast(const Values& v, const EffectWindow& w, Planes& p) {
  const double radius = w.px(v[0]);
  if (radius < 0.5) return;
  const Tones t = tonesOf(p, w.area);
  const cv::Mat around = surroundings(t.luma, t.coverage, radius, kEdge);
  for (int i = 0; i < p.count(); ++i) {
    const float l = t.luma.ptr<float>()[i], d = l - around.ptr<float>()[i];
    addLuma(p, i, float(v[1]) * d * (1 - std::pow(std::abs(2 * l - 1), 4.f)));
  }
}

void recover(const Values& v, const EffectWindow& w, Planes& p) {
  const double radius = std::max(1.0, w.px(v[0]));
  const Tones t = tonesOf(p, w.area);
  const cv::Mat around = surroundings(t.luma, t.coverage, radius, kEdge);
  for (int i = 0; i < p.count(); ++i) {
    // Surroundings are bent, what stands out of them is carried along. Black and white stay.
    const float m = scene::clamped(around.ptr<float>()[i]), rest = 1 - m;
    addLuma(p, i, float(v[2]) * m * rest * rest * rest - float(v[1]) * rest * m * m * m);
  }
}

void evenOut(const Values& v, const EffectWindow& w, Planes& p) {
  const double fine = std::max(0.5, w.px(v[0]) / 2), large = w.px(v[1]) / 2;
  if (large <= fine) return;
  const double step = v[3] * v[3] / 4;  // the variance of a step of that height
  const cv::Mat coverage = matOf(p, 3, w.area);
  for (int c = 0; c < 3; ++c) {
    // What lies between the two sizes is the blotches. Both keep edges, so that nothing of them is taken for one; what is fine is
    // out of the way when the large ones are told from edges.
    const cv::Mat coarse = surroundings(matOf(p, c, w.area), coverage, fine, step);
    const cv::Mat spots = coarse - surroundings(coarse, coverage, large, step / 4);
    for (int i = 0; i < p.count(); ++i) p.colour(c)[i] = scene::clamped(p.colour(c)[i] - float(v[2]) * spots.ptr<float>()[i]);
  }
}

void denoise(const Values& v, const EffectWindow& w, Planes& p) {
  const double radius = w.px(v[0]);
  if (radius < 0.5) return;
  const int d = 2 * std::max(1, int(std::lround(radius))) + 1;
  const Tones t = tonesOf(p, w.area);
  cv::Mat luma = t.luma.clone(), colour(w.area.height, w.area.width, CV_32FC3);
  for (int i = 0; i < p.count(); ++i) {
    const float l = t.luma.ptr<float>()[i];
    colour.ptr<cv::Vec3f>()[i] = {0, p.colour(0)[i] - l, p.colour(2)[i] - l};
  }
  cv::Mat out;
  if (v[1] > 0) {
    cv::bilateralFilter(luma, out, d, 1.5 * v[1], radius, cv::BORDER_REPLICATE);
    luma = out.clone();
  }
  if (v[2] > 0) {
    cv::bilateralFilter(colour, out, d, 1.5 * v[2], radius, cv::BORDER_REPLICATE);
    colour = out.clone();
  }
  for (int i = 0; i < p.count(); ++i) {
    const float l = luma.ptr<float>()[i];
    const cv::Vec3f c = colour.ptr<cv::Vec3f>()[i];
    float rgb[3] = {l + c[1], 0, l + c[2]};
    rgb[1] = (l - 0.3f * rgb[0] - 0.11f * rgb[2]) / 0.59f;
    scene::clipKeepingLuma(rgb);
    for (int k = 0; k < 3; ++k) p.colour(k)[i] = rgb[k];
  }
}

}  // namespace hseam::render::effects
