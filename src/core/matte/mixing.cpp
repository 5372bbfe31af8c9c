#include "core/matte/mixing.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using image::Raster;

// What the lines of colour leave unexplained of alpha, over all windows that touch the band: the matting Laplacian's energy.
double energy(const Try& t, const Raster<std::uint8_t>& band, double eps, base::Executor& executor) {
  const int w = band.width(), h = band.height();
  std::vector<double> lines(std::size_t(h), 0.0);
  executor.forEach(h - 2, [&](int i) {
    const int y = i + 1;
    double sum = 0;
    for (int x = 1; x + 1 < w; ++x) {
      Eigen::Matrix<double, 9, 3> colours;
      Eigen::Matrix<double, 9, 1> alpha;
      bool any = false;
      for (int k = 0; k < 9; ++k) {
        const int px = x + k % 3 - 1, py = y + k / 3 - 1;
        any |= knownOf(*band.at(px, py)) == Known::undecided;
        const float* c = t.picture.at(px, py);
        colours.row(k) << double(c[0]), double(c[1]), double(c[2]);
        alpha(k) = double(*t.alpha.at(px, py));
      }
      if (!any) continue;
      const Eigen::RowVector3d mean = colours.colwise().mean();
      colours.rowwise() -= mean;
      alpha.array() -= alpha.mean();
      const Eigen::Matrix3d covariance = colours.transpose() * colours / 9 + Eigen::Matrix3d::Identity() * (eps / 9);
      const Eigen::Vector3d together = colours.transpose() * alpha / 9;
      sum += std::max(0.0, alpha.squaredNorm() / 9 - together.dot(covariance.llt().solve(together)));
    }
    lines[std::size_t(y)] = sum;
  });
  double all = 0;
  for (const double l : lines) all += l;
  return all;
}

// Natural logarithm of the volume that light takes where encoded values take one: the slope of the transfer curve in three
// channels.
double logVolume(const float* code) {
  double sum = 0;
  for (int c = 0; c < 3; ++c)
    sum += std::log(std::max(1 / 12.92, 2.4 / 1.055 * std::pow((double(code[c]) + 0.055) / 1.055, 1.4)));
  return sum;
}

// How much likelier the edge's colours are as mixtures of encoded values. Single pixels count at most 2. How well the unmixed
// colours on both sides fit normal distributions in either values says nothing about mixing, and is taken off.
double likelier(const Try& light, const Try& encoded, const std::vector<int>& pixels) {
  struct Mean {
    double sum = 0;
    int count = 0;
    void add(double d) { sum += d, ++count; }
    double value() const { return count > 0 ? sum / count : 0; }
  } mixed, subject, background;
  for (std::size_t i = 0; i < pixels.size(); ++i) {
    const Evidence &l = light.evidence[i], &c = encoded.evidence[i];
    if (l.confidence <= 0 || c.confidence <= 0) continue;
    const std::size_t at = std::size_t(pixels[i]);
    const double d = std::clamp(
        double(c.logLikelihood) - double(l.logLikelihood) - logVolume(encoded.picture.samples().data() + at * 3), -2.0, 2.0);
    const auto [low, high] = std::minmax(light.alpha.samples()[at], encoded.alpha.samples()[at]);
    if (low > 0.1f && high < 0.9f) mixed.add(d);
    if (low > 0.97f) subject.add(d);
    if (high < 0.03f) background.add(d);
  }
  return mixed.value() - (subject.value() + background.value()) / 2;
}

}  // namespace

double encodedShareOf(const Try& light, const Try& encoded, const Raster<std::uint8_t>& band, const std::vector<int>& pixels,
                      base::Executor& executor) {
  const double inLight = energy(light, band, 3e-8, executor), inEncoded = energy(encoded, band, 1e-7, executor);
  // Weights and threshold: by trials on photographed and rendered edges whose mixing was known.
  constexpr double kEnergyWeight = 0.7, kThreshold = 0.05, kSoftness = 0.06;
  const double sign = likelier(light, encoded, pixels) + kEnergyWeight * std::log((inLight + 1e-9) / (inEncoded + 1e-9));
  return 1 / (1 + std::exp(-(sign - kThreshold) / kSoftness));
}

}  // namespace hseam::matte
