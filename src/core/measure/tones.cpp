#include "core/measure/tones.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/image/lab.h"
#include "core/image/transfer.h"

namespace hseam::measure {
namespace {

constexpr std::size_t kFewest = 400;
constexpr double kEndShare = 0.005;
constexpr double kMassWithin = 5;  // L* beyond the end point
// A subject without anything near black or white has no such point of its own, unless a good part of it ends there alike.
constexpr double kDarkest = 28, kLightest = 76, kPileShare = 0.07;
constexpr double kMassShare = 0.015;  // of the pixels: as many make an end of the tones and not its straggler

// The deviation of a quantile by splitting the pixels into eight interleaved lots.
double spreadOf(const std::vector<float>& values, double share) {
  constexpr std::size_t kLots = 8;
  double sum = 0, squares = 0;
  for (std::size_t k = 0; k < kLots; ++k) {
    std::vector<float> lot;
    for (std::size_t i = k; i < values.size(); i += kLots) lot.push_back(values[i]);
    const double q = double(quantile(std::move(lot), share));
    sum += q, squares += q * q;
  }
  return std::sqrt(std::max(0.0, squares / kLots - sum / kLots * sum / kLots) / (kLots - 1));
}

}  // namespace

Tones tonesOf(const Population& p) {
  Tones t;
  if (p.size() < kFewest) {
    t.black = t.mid = t.white = unavailable("too few pixels");
    return t;
  }
  const double black = double(quantile(p.l, kEndShare)), white = double(quantile(p.l, 1 - kEndShare));
  const auto shareWithin = [&](double from, double to) {
    return double(std::count_if(p.l.begin(), p.l.end(), [&](float l) { return double(l) >= from && double(l) <= to; })) /
           double(p.size());
  };
  t.black = shareWithin(-1, black + kMassWithin) >= (black <= kDarkest ? kMassShare : kPileShare)
                ? available(black, spreadOf(p.l, kEndShare))
                : unavailable("there is nothing dark enough in it");
  t.white = shareWithin(white - kMassWithin, 101) >= (white >= kLightest ? kMassShare : kPileShare)
                ? available(white, spreadOf(p.l, 1 - kEndShare))
                : unavailable("there is nothing light enough in it");
  t.mid = available(double(quantile(p.l, 0.5)), spreadOf(p.l, 0.5));
  return t;
}

Reading saturationOf(const Population& p) {
  if (p.size() < kFewest) return unavailable("too few pixels");
  std::vector<float> chroma(p.size());
  for (std::size_t i = 0; i < p.size(); ++i) chroma[i] = std::hypot(p.a[i], p.b[i]);
  return available(double(quantile(chroma, 0.5)), spreadOf(chroma, 0.5));
}

namespace {

struct Means {
  double a = 0, b = 0, deviation = 0;
};
Means meansOf(const Population& p) {
  double a = 0, b = 0, squares = 0;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const double u = double(p.a[i]), v = double(p.b[i]);
    a += u, b += v, squares += u * u + v * v;
  }
  const double n = double(std::max<std::size_t>(1, p.size()));
  a /= n, b /= n;
  return {a, b, std::sqrt(std::max(0.0, squares / n - a * a - b * b))};
}

}  // namespace

Colourfulness colourfulnessOf(const Population& p) {
  constexpr double kOfMean = 0.37, kOnce = 15;  // px a side that say the same thing
  if (p.size() < kFewest) return {unavailable("too few pixels"), 0};
  const Means m = meansOf(p);
  return {available(m.deviation + kOfMean * std::hypot(m.a, m.b), m.deviation / std::sqrt(2 * double(p.size())) * kOnce),
          m.deviation};
}

Cast castOfMeans(const Population& layer, const Population& scene) {
  if (layer.size() < kFewest || scene.size() < kFewest) return {};
  const Means l = meansOf(layer), s = meansOf(scene);
  return {true, l.a - s.a, l.b - s.b, s.deviation};
}

Cast illuminantOf(const Part& part) {
  const int w = part.colours.width(), h = part.colours.height();
  constexpr double kSigma = 1.2, kPower = 6;
  cv::Mat counts(h, w, CV_8U), near;
  for (int y = 0; y < h; ++y) std::copy_n(part.counts.at(0, y), w, counts.ptr<std::uint8_t>(y));
  cv::erode(counts, near, cv::Mat::ones(7, 7, CV_8U));  // derivatives must not see beyond
  std::array<double, 3> light{};
  std::size_t n = 0;
  for (int c = 0; c < 3; ++c) {
    cv::Mat plane(h, w, CV_32F), dx, dy;
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) plane.ptr<float>(y)[x] = image::fastLinear(std::clamp(part.colours.at(x, y)[c], 0.f, 1.f));
    }
    cv::GaussianBlur(plane, plane, {}, kSigma);
    cv::Sobel(plane, dx, CV_32F, 1, 0);
    cv::Sobel(plane, dy, CV_32F, 0, 1);
    double sum = 0;
    n = 0;
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) {
        if (near.ptr<std::uint8_t>(y)[x] == 0) continue;
        // Clipped light says nothing of its colour.
        const float* p = part.colours.at(x, y);
        if (std::max({p[0], p[1], p[2]}) > 0.985f) continue;
        const double gx = double(dx.ptr<float>(y)[x]), gy = double(dy.ptr<float>(y)[x]), square = gx * gx + gy * gy;
        sum += square * square * square;  // the length to the sixth
        ++n;
      }
    }
    light[std::size_t(c)] = n > 0 ? std::pow(sum / double(n), 1 / kPower) : 0;
  }
  if (n < kFewest || light[0] <= 1e-7 || light[1] <= 1e-7 || light[2] <= 1e-7) return {};
  // A grey of L* 60 under that light.
  const double y = 0.2126 * light[0] + 0.7152 * light[1] + 0.0722 * light[2], grey = std::pow(76.0 / 116, 3);
  std::array<double, 3> encoded{};
  for (std::size_t c = 0; c < 3; ++c) encoded[c] = std::min(1.0, image::encodedFromLinear(std::min(1.0, light[c] / y * grey)));
  const image::Lab lab = image::labFromEncoded(encoded);
  return {true, lab.a, lab.b, 0};
}

Cast castAtTones(const Population& layer, const Population& scene) {
  constexpr int kBins = 12;
  constexpr double kMostCast = 20;
  if (layer.size() < kFewest || scene.size() < kFewest) return {};
  double sumA = 0, sumB = 0, weight = 0, squares = 0;
  for (int bin = 0; bin < kBins; ++bin) {
    const float from = 100.f * float(bin) / kBins, to = 100.f * float(bin + 1) / kBins;
    std::vector<std::size_t> s, l;
    for (std::size_t i = 0; i < scene.size(); ++i) {
      if (scene.l[i] >= from && scene.l[i] < to) s.push_back(i);
    }
    for (std::size_t i = 0; i < layer.size(); ++i) {
      if (layer.l[i] >= from && layer.l[i] < to) l.push_back(i);
    }
    if (s.size() < 60 || l.size() < 60) continue;
    std::vector<float> chroma;
    chroma.reserve(s.size());
    for (const std::size_t i : s) chroma.push_back(std::hypot(scene.a[i], scene.b[i]));
    const float third = std::max(4.f, quantile(chroma, 0.33));
    double a = 0, b = 0, n = 0;
    for (const std::size_t i : s) {
      if (std::hypot(scene.a[i], scene.b[i]) > third) continue;
      a += double(scene.a[i]), b += double(scene.b[i]), n += 1;
    }
    a /= n, b /= n;
    double la = 0, lb = 0, ln = 0;
    for (const std::size_t i : l) {
      if (std::hypot(double(layer.a[i]) - a, double(layer.b[i]) - b) > double(third) + kMostCast) continue;
      la += double(layer.a[i]), lb += double(layer.b[i]), ln += 1;
    }
    if (ln < 40) continue;
    const double wgt = std::sqrt(std::min(n, ln)), da = la / ln - a, db = lb / ln - b;
    sumA += wgt * da, sumB += wgt * db, weight += wgt, squares += wgt * (da * da + db * db);
  }
  if (weight <= 0) return {};
  const double a = sumA / weight, b = sumB / weight;
  return {true, a, b, std::sqrt(std::max(0.0, squares / weight - a * a - b * b))};
}

}  // namespace hseam::measure
