#include "core/matte/laplacian.h"

#include <Eigen/Dense>
#include <cmath>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using image::Raster;

constexpr int kChunk = 2048;

template <class Body>
void eachChunk(int count, base::Executor& executor, const Body& body) {
  const int chunks = (count + kChunk - 1) / kChunk;
  executor.forEach(chunks, [&](int c) { body(c, c * kChunk, std::min(count, (c + 1) * kChunk)); });
}

// Sums in chunks of fixed size, so that the result does not depend on the number of threads.
template <class Term>
double sum(int count, base::Executor& executor, const Term& term) {
  std::vector<double> parts(std::size_t((count + kChunk - 1) / kChunk));
  eachChunk(count, executor, [&](int c, int from, int to) {
    double s = 0;
    for (int i = from; i < to; ++i) s += term(std::size_t(i));
    parts[std::size_t(c)] = s;
  });
  double all = 0;
  for (const double p : parts) all += p;
  return all;
}

}  // namespace

Laplacian::Laplacian(const Raster<float>& picture, const Raster<std::uint8_t>& band, double eps, base::Executor& executor) : width_(picture.width()) {
  const int w = picture.width(), h = picture.height();
  std::vector<int> index(picture.pixels(), -1);
  for (std::size_t i = 0; i < band.samples().size(); ++i) {
    if (knownOf(band.samples()[i]) != Known::undecided) continue;
    index[i] = int(pixels_.size());
    pixels_.push_back(int(i));
  }
  rows_.assign(pixels_.size(), {});
  known_.assign(pixels_.size(), 0.0);
  columns_.resize(pixels_.size());
  eachChunk(size(), executor, [&](int, int from, int to) {
    for (int i = from; i < to; ++i) {
      const int x = pixels_[std::size_t(i)] % w, y = pixels_[std::size_t(i)] / w;
      for (int k = 0; k < 25; ++k) {
        const int px = x + k % 5 - 2, py = y + k / 5 - 2;
        const bool inside = px >= 0 && py >= 0 && px < w && py < h;
        const int other = inside ? index[std::size_t(py) * std::size_t(w) + std::size_t(px)] : -1;
        columns_[std::size_t(i)][std::size_t(k)] = other >= 0 ? other : i;
      }
    }
  });
  // A window writes to rows at most one line away from its centre: every third line of windows at once is free of races,
  // and the order of additions to a row stays the same for any number of threads.
  for (int phase = 0; phase < 3; ++phase) {
    executor.forEach((h - 2 - phase + 2) / 3, [&](int i) {
      const int y = 1 + phase + 3 * i;
      if (y > h - 2) return;
      for (int x = 1; x < w - 1; ++x) addWindow(picture, x, y, eps, band, index);
    });
  }
}

void Laplacian::addWindow(const Raster<float>& picture, int x, int y, double eps, const Raster<std::uint8_t>& band, const std::vector<int>& index) {
  std::array<int, 9> unknown{};
  bool any = false;
  for (int k = 0; k < 9; ++k) {
    unknown[std::size_t(k)] = index[std::size_t(y + k / 3 - 1) * std::size_t(width_) + std::size_t(x + k % 3 - 1)];
    any |= unknown[std::size_t(k)] >= 0;
  }
  if (!any) return;
  Eigen::Matrix<double, 9, 3> colours;
  for (int k = 0; k < 9; ++k) {
    const float* c = picture.at(x + k % 3 - 1, y + k / 3 - 1);
    colours.row(k) << c[0], c[1], c[2];
  }
  const Eigen::RowVector3d mean = colours.colwise().mean();
  colours.rowwise() -= mean;
  const Eigen::Matrix3d covariance = colours.transpose() * colours / 9 + Eigen::Matrix3d::Identity() * (eps / 9);
  // Cholesky, not cofactors: in a grey window two of the three eigenvalues are eps / 9, and the determinant is all rounding.
  const Eigen::Matrix<double, 9, 3> left = covariance.llt().solve(colours.transpose()).transpose();
  for (int i = 0; i < 9; ++i) {
    const int row = unknown[std::size_t(i)];
    if (row < 0) continue;
    const int ix = i % 3, iy = i / 3;
    for (int j = 0; j < 9; ++j) {
      const double affinity = (1 + left.row(i).dot(colours.row(j))) / 9;
      const double value = (i == j ? 1.0 : 0.0) - affinity;
      const int jx = j % 3, jy = j / 3;
      if (unknown[std::size_t(j)] >= 0) {
        rows_[std::size_t(row)][std::size_t((jy - iy + 2) * 5 + jx - ix + 2)] += value;
      } else if (knownOf(*band.at(x + jx - 1, y + jy - 1)) == Known::subject) {
        known_[std::size_t(row)] -= value;
      }
    }
  }
}

void Laplacian::multiply(const std::vector<double>& weight, const std::vector<double>& x, std::vector<double>& out, base::Executor& executor) const {
  eachChunk(size(), executor, [&](int, int from, int to) {
    for (std::size_t i = std::size_t(from); i < std::size_t(to); ++i) {
      double s = weight[i] * x[i];
      for (std::size_t k = 0; k < 25; ++k) s += rows_[i][k] * x[std::size_t(columns_[i][k])];
      out[i] = s;
    }
  });
}

base::Result<Laplacian::Solution> Laplacian::solve(const std::vector<double>& start, const std::vector<double>& weight, const std::vector<double>& target,
                                                   double tolerance, int maxIterations, base::Executor& executor, const base::Progress& progress) const {
  const int n = size();
  Solution s{start, 0, 0};
  if (n == 0) return s;
  std::vector<double> r(std::size_t(n), 0), z(std::size_t(n), 0), p(std::size_t(n), 0), q(std::size_t(n), 0), inverse(std::size_t(n), 0);
  multiply(weight, s.alpha, q, executor);
  eachChunk(n, executor, [&](int, int from, int to) {
    for (std::size_t i = std::size_t(from); i < std::size_t(to); ++i) {
      r[i] = known_[i] + weight[i] * target[i] - q[i];
      inverse[i] = 1 / std::max(1e-12, rows_[i][12] + weight[i]);
      p[i] = z[i] = inverse[i] * r[i];
    }
  });
  const double scale = std::sqrt(sum(n, executor, [&](std::size_t i) {
    const double b = known_[i] + weight[i] * target[i];
    return b * b * inverse[i];
  })) + 1e-30;
  double rz = sum(n, executor, [&](std::size_t i) { return r[i] * z[i]; });
  const double first = std::sqrt(rz) / scale;
  double share = 0;  // the residual of conjugate gradients falls with setbacks; what is reported does not
  for (; s.iterations < maxIterations; ++s.iterations) {
    s.residual = std::sqrt(rz) / scale;
    if (s.residual <= tolerance) break;
    if (progress.cancelled()) return base::cancelledError();
    // The residual falls roughly as a power: its logarithm is a fair measure of how far the work is.
    share = std::clamp(std::log(first / s.residual) / std::log(std::max(1.001, first / tolerance)), std::max(share, double(s.iterations) / maxIterations), 1.0);
    progress.report(share);
    multiply(weight, p, q, executor);
    const double step = rz / sum(n, executor, [&](std::size_t i) { return p[i] * q[i]; });
    eachChunk(n, executor, [&](int, int from, int to) {
      for (std::size_t i = std::size_t(from); i < std::size_t(to); ++i) {
        s.alpha[i] += step * p[i];
        r[i] -= step * q[i];
        z[i] = inverse[i] * r[i];
      }
    });
    const double next = sum(n, executor, [&](std::size_t i) { return r[i] * z[i]; });
    const double turn = next / rz;
    rz = next;
    eachChunk(n, executor, [&](int, int from, int to) {
      for (std::size_t i = std::size_t(from); i < std::size_t(to); ++i) p[i] = z[i] + turn * p[i];
    });
  }
  return s;
}

}  // namespace hseam::matte
