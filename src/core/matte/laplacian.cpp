#include "core/matte/laplacian.h"

#include <Eigen/Dense>
#include <cmath>

#include "core/matte/trimap.h"

namespace hseam::matte {
namespace {

using image::Raster;

constexpr int kChunk = 2048;
constexpr std::size_t kWindowBorder = 2;
std::size_t stride(int width) {
  return std::size_t(width) + 2 * kWindowBorder;
}

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

Laplacian::Laplacian(const Raster<float>& picture, const Raster<std::uint8_t>& band, double eps, base::Executor& executor)
    : width_(picture.width()), height_(picture.height()) {
  const int w = picture.width(), h = picture.height();
  std::vector<int> index(picture.pixels(), -1);
  for (std::size_t i = 0; i < band.samples().size(); ++i) {
    if (knownOf(band.samples()[i]) != Known::undecided) continue;
    index[i] = int(pixels_.size());
    pixels_.push_back(int(i));
    places_.push_back(std::uint32_t((i / std::size_t(w) + kWindowBorder) * stride(w) + i % std::size_t(w) + kWindowBorder));
  }
  rows_.assign(pixels_.size(), {});
  known_.assign(pixels_.size(), 0.0);
  diagonal_.assign(pixels_.size(), 0.0);
  // A window writes to rows at most one line away from its centre: every third line of windows at once is free of races,
  // and the order of additions to a row stays the same for any number of threads.
  for (int phase = 0; phase < 3; ++phase) {
    executor.forEach((h - 2 - phase + 2) / 3, [&](int i) {
      const int y = 1 + phase + 3 * i;
      if (y > h - 2) return;
      for (int x = 1; x < w - 1; ++x) addWindow(picture, x, y, eps, band, index);
    });
  }
  leftOver_ = diagonal_;
  eachChunk(size(), executor, [&](int, int from, int to) {
    for (std::size_t i = std::size_t(from); i < std::size_t(to); ++i) {
      for (const float c : rows_[i]) leftOver_[i] += double(c);
    }
  });
}

void Laplacian::addWindow(const Raster<float>& picture, int x, int y, double eps, const Raster<std::uint8_t>& band,
                          const std::vector<int>& index) {
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
      if (i == j) {
        diagonal_[std::size_t(row)] += value;
      } else if (unknown[std::size_t(j)] >= 0) {
        const int dx = jx - ix, dy = jy - iy, place = dx < 2 ? (dy + 2) * 4 + dx + 2 : 22 + dy;
        rows_[std::size_t(row)][std::size_t(place)] += float(value);
      } else if (knownOf(*band.at(x + jx - 1, y + jy - 1)) == Known::subject) {
        known_[std::size_t(row)] -= value;
      }
    }
  }
}

// out = (L + D) x; returns x · out. The sum runs over differences to the own value, which keeps single precision exact enough
// for smooth x; what the row has left over acts on the value itself.
double Laplacian::multiply(const std::vector<double>& weight, const std::vector<float>& x, std::vector<double>& out,
                           base::Executor& executor) const {
  const std::size_t line = stride(width_);
  return sum(size(), executor, [&](std::size_t i) {
    const float own = x[places_[i]];
    const float* row = rows_[i].data();
    const float* at = x.data() + places_[i] - kWindowBorder * line - kWindowBorder;
    std::array<float, 4> s{};
    float right = 0;
    for (std::size_t dy = 0; dy < 5; ++dy, at += line) {
      for (std::size_t k = 0; k < 4; ++k) s[k] += row[dy * 4 + k] * (at[k] - own);
      right += row[20 + dy] * (at[4] - own);
    }
    const double differences = double((s[0] + s[1]) + (s[2] + s[3]) + right);
    out[i] = differences + (leftOver_[i] + weight[i]) * double(own);
    return out[i] * double(own);
  });
}

base::Result<Laplacian::Solution> Laplacian::solve(const std::vector<double>& start, const std::vector<double>& weight,
                                                   const std::vector<double>& target, double tolerance, int maxIterations,
                                                   base::Executor& executor, const base::Progress& progress) const {
  const int n = size();
  Solution s{start, 0, 0};
  if (n == 0) return s;
  std::vector<double> r(std::size_t(n), 0), q(std::size_t(n), 0), inverse(std::size_t(n), 0);
  std::vector<float> p(stride(width_) * (std::size_t(height_) + 2 * kWindowBorder), 0.f);
  for (std::size_t i = 0; i < std::size_t(n); ++i) p[places_[i]] = float(s.alpha[i] = double(float(s.alpha[i])));
  multiply(weight, p, q, executor);
  double rz = sum(n, executor, [&](std::size_t i) {
    inverse[i] = 1 / std::max(1e-12, diagonal_[i] + weight[i]);
    r[i] = known_[i] + weight[i] * target[i] - q[i];
    p[places_[i]] = float(inverse[i] * r[i]);
    return r[i] * inverse[i] * r[i];
  });
  const double scale = std::sqrt(sum(n, executor,
                                     [&](std::size_t i) {
                                       const double b = known_[i] + weight[i] * target[i];
                                       return b * b * inverse[i];
                                     })) +
                       1e-30;
  const double first = std::sqrt(rz) / scale;
  double share = 0;  // the residual of conjugate gradients falls with setbacks; what is reported does not
  for (; s.iterations < maxIterations; ++s.iterations) {
    s.residual = std::sqrt(rz) / scale;
    if (s.residual <= tolerance) break;
    if (progress.cancelled()) return base::cancelledError();
    // The residual falls roughly as a power: its logarithm is a fair measure of how far the work is.
    share = std::clamp(std::log(first / s.residual) / std::log(std::max(1.001, first / tolerance)),
                       std::max(share, double(s.iterations) / maxIterations), 1.0);
    progress.report(share);
    const double step = rz / multiply(weight, p, q, executor);
    const double next = sum(n, executor, [&](std::size_t i) {
      s.alpha[i] += step * double(p[places_[i]]);
      r[i] -= step * q[i];
      return r[i] * inverse[i] * r[i];
    });
    const double turn = next / rz;
    rz = next;
    eachChunk(n, executor, [&](int, int from, int to) {
      for (std::size_t i = std::size_t(from); i < std::size_t(to); ++i) {
        float& direction = p[places_[i]];
        direction = float(inverse[i] * r[i] + turn * double(direction));
      }
    });
  }
  return s;
}

}  // namespace hseam::matte
