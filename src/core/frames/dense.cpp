#include "core/frames/dense.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/frames/cubic.h"

namespace hseam::frames {
namespace {

using image::Raster;

constexpr int kBlockSide = 24, kBlockPixels = kBlockSide * kBlockSide;
constexpr int kGaussSteps = 4;
constexpr double kExplained = 0.12;  // of a block's contrast: what may be left over where the same thing is seen
constexpr double kNoiseTimes = 2.5;  // times the quiet blocks' left over: noise alone
constexpr float kCutDark = 0.012f, kCutBright = 0.988f;

using Normal = Eigen::Matrix<double, 8, 8>;
using Vector = Eigen::Matrix<double, 8, 1>;

// What a block says at one state of the map.
struct Block {
  bool seen = false, still = false;
  double variance = 0, contrast = 0, gain = 1;
  // As if all of it were shifted alike: within so few pixels a map hardly does anything else.
  double xx = 0, xy = 0, yy = 0, ex = 0, ey = 0;
};

struct Grid {
  int columns, rows;
  double cx, cy, size;  // where coordinates are counted from, and in what
};

Block readBlock(const Raster<float>& from, const Raster<float>& to, const Homography& map, int column, int row) {
  const int x0 = 1 + column * kBlockSide, y0 = 1 + row * kBlockSide;
  const base::Point middle{x0 + kBlockSide / 2.0, y0 + kBlockSide / 2.0},
      q = map.map(middle), right = map.map({middle.x + 1, middle.y}), down = map.map({middle.x, middle.y + 1});
  const double a[4] = {right.x - q.x, down.x - q.x, right.y - q.y, down.y - q.y};
  Block b;
  std::array<float, kBlockPixels> other;
  int cut = 0;
  double s = 0, so = 0, ss = 0, soo = 0, sso = 0;
  for (int i = 0; i < kBlockPixels; ++i) {
    const int x = x0 + i % kBlockSide, y = y0 + i / kBlockSide;
    const double dx = x + 0.5 - middle.x, dy = y + 0.5 - middle.y;
    float& o = other[std::size_t(i)];
    if (!cubicAt(to, q.x + a[0] * dx + a[1] * dy, q.y + a[2] * dx + a[3] * dy, o)) return b;
    const float t = *from.at(x, y);
    cut += t < kCutDark || t > kCutBright || o < kCutDark || o > kCutBright;
    s += double(t), so += double(o), ss += double(t) * double(t), soo += double(o) * double(o), sso += double(t) * double(o);
  }
  if (cut > kBlockPixels / 10) return b;
  b.seen = true;
  const double vt = ss / kBlockPixels - s / kBlockPixels * (s / kBlockPixels),
               vo = soo / kBlockPixels - so / kBlockPixels * (so / kBlockPixels),
               cov = sso / kBlockPixels - s / kBlockPixels * (so / kBlockPixels);
  // Where there is next to no contrast its gain cannot be read; it does not matter there.
  b.gain = vt > 1e-7 ? std::clamp(cov / vt, 0.25, 4.0) : 1;
  b.contrast = vo;
  const double offset = so / kBlockPixels - b.gain * (s / kBlockPixels);
  double left = 0;
  for (int i = 0; i < kBlockPixels; ++i) {
    const int x = x0 + i % kBlockSide, y = y0 + i / kBlockSide;
    const float* p = from.at(x, y);
    const double e = double(other[std::size_t(i)]) - b.gain * double(*p) - offset;
    const double gx = b.gain * double(p[1] - p[-1]) / 2, gy = b.gain * double(p[from.width()] - p[-from.width()]) / 2;
    b.xx += gx * gx, b.xy += gx * gy, b.yy += gy * gy;
    b.ex += gx * e, b.ey += gy * e;
    left += e * e;
  }
  b.variance = left / kBlockPixels;
  return b;
}

// The small map of a step: px of `from` → px of `from`.
Homography stepOf(const Vector& p, const Grid& g) {
  const Homography in{{1 / g.size, 0, -g.cx / g.size, 0, 1 / g.size, -g.cy / g.size, 0, 0, 1}};
  // Each unknown is what it moves at the rim of the picture, in px.
  const double k = g.size;
  const Homography small{{1 + p[1] / k, p[2] / k, p[0] / k, p[4] / k, 1 + p[5] / k, p[3] / k, p[6] / k, p[7] / k, 1}};
  return in.inverse().after(small).after(in);
}

}  // namespace

Dense refined(const Raster<float>& from, const Raster<float>& to, const Homography& start, MapModel model,
              base::Executor& executor) {
  const Grid g{(from.width() - 2) / kBlockSide, (from.height() - 2) / kBlockSide, from.width() / 2.0, from.height() / 2.0,
               std::max(from.width(), from.height()) / 2.0};
  Dense out{start, 0, 0};
  if (g.columns < 2 || g.rows < 2) return out;
  // A similarity's four unknowns within the eight: shift, and a turn and growth that go together.
  Eigen::MatrixXd free = Eigen::MatrixXd::Identity(8, 8);
  if (model == MapModel::similarity) {
    free = Eigen::MatrixXd::Zero(8, 4);
    free(0, 0) = free(3, 1) = 1;
    free(1, 2) = free(5, 2) = 1;
    free(2, 3) = -1, free(4, 3) = 1;
  }
  std::vector<Block> blocks(std::size_t(g.columns) * std::size_t(g.rows));
  const auto read = [&] {
    executor.forEach(g.rows, [&](int row) {
      for (int column = 0; column < g.columns; ++column)
        blocks[std::size_t(row) * std::size_t(g.columns) + std::size_t(column)] = readBlock(from, to, out.map, column, row);
    });
    std::vector<double> left;
    for (const Block& b : blocks) {
      if (b.seen) left.push_back(b.variance);
    }
    if (left.empty()) return false;
    std::nth_element(left.begin(), left.begin() + long(left.size() / 4), left.end());
    const double quiet = std::max(left[left.size() / 4], 1e-8);
    int seen = 0, still = 0;
    for (Block& b : blocks) {
      b.still = b.seen && b.variance < std::max(kNoiseTimes * quiet, kExplained * b.contrast);
      seen += b.seen, still += b.still;
    }
    out.stillShare = double(still) / std::max(1, seen);
    return still > 8;
  };
  std::vector<double> first;  // of each block, at the start; 0: it was not still
  for (int round = 0; round <= kGaussSteps; ++round) {
    if (!read()) break;
    if (first.empty()) {
      for (const Block& b : blocks) first.push_back(b.still ? b.variance : 0);
    }
    double change = 0;
    int n = 0;
    Normal normal = Normal::Zero();
    Vector right = Vector::Zero();
    for (std::size_t k = 0; k < blocks.size(); ++k) {
      const Block& b = blocks[k];
      if (!b.still) continue;
      const int row = int(k) / g.columns, column = int(k) % g.columns;
      const double u = (1 + (double(column) + 0.5) * kBlockSide - g.cx) / g.size,
                   v = (1 + (double(row) + 0.5) * kBlockSide - g.cy) / g.size;
      Eigen::Matrix<double, 2, 8> j;
      j << 1, u, v, 0, 0, 0, -u * u, -u * v, 0, 0, 0, 1, u, v, -u * v, -v * v;
      const Eigen::Matrix2d tensor = (Eigen::Matrix2d() << b.xx, b.xy, b.xy, b.yy).finished() / b.variance;
      normal.noalias() += j.transpose() * tensor * j;
      right.noalias() += j.transpose() * Eigen::Vector2d(b.ex, b.ey) / b.variance;
      if (first[k] <= 0) continue;
      change += std::log(b.variance / first[k]);
      ++n;
    }
    out.change = n > 0 ? change / n : 0;
    if (round == kGaussSteps) break;
    const Eigen::MatrixXd a = free.transpose() * normal * free;
    const Vector step = free * a.ldlt().solve(free.transpose() * right);
    if (!step.allFinite()) break;
    const Homography next = out.map.after(stepOf(step, g).inverse());
    out.map = next;
    if (step.head<6>().cwiseAbs().maxCoeff() < 2e-4) break;
  }
  return out;
}

namespace {

Raster<float> half(const Raster<float>& r) {
  Raster<float> out(r.width() / 2, r.height() / 2, 1);
  for (int y = 0; y < out.height(); ++y) {
    for (int x = 0; x < out.width(); ++x) {
      const float *a = r.at(2 * x, 2 * y), *b = r.at(2 * x, 2 * y + 1);
      *out.at(x, y) = (a[0] + a[1] + b[0] + b[1]) / 4;
    }
  }
  return out;
}

}  // namespace

Dense refinedFromAfar(const Raster<float>& from, const Raster<float>& to, const Homography& start, base::Executor& executor) {
  constexpr int kLeastSide = 4 * kBlockSide;
  std::vector<Raster<float>> a{from}, b{to};
  while (std::min({a.back().width(), a.back().height(), b.back().width(), b.back().height()}) >= 2 * kLeastSide) {
    a.push_back(half(a.back()));
    b.push_back(half(b.back()));
  }
  Dense out{start, 0, 0};
  for (std::size_t n = a.size(); n-- > 0;) {
    const double k = double(1 << n);
    const Homography up = Homography::scaling(k), down = Homography::scaling(1 / k);
    out = refined(a[n], b[n], down.after(out.map).after(up), MapModel::similarity, executor);
    out.map = up.after(out.map).after(down);
  }
  return out;
}

}  // namespace hseam::frames
