#include "core/frames/map_fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace hseam::frames {
namespace {

constexpr int kRounds = 12;
constexpr double kTukey = 4.685;      // 95 % as good as plain least squares where all is Gaussian
constexpr double kSigmaFloor = 0.01;  // px: what two pictures of one place never agree on more closely

double offOf(const Homography& m, const Pair& p) {
  const base::Point q = m.map(p.from);
  return std::hypot(q.x - p.to.x, q.y - p.to.y);
}

double sigmaOf(const Pair& p) {
  return std::hypot(p.sigma, kSigmaFloor);
}

// In coordinates about the middle of the places and of their size, where the equations are well conditioned.
struct Centred {
  double x = 0, y = 0, size = 1;
};

Homography solve(const std::vector<Pair>& pairs, const std::vector<double>& weights, MapModel model, const Centred& f,
                 const Homography& now) {
  const auto in = [&](base::Point p) { return base::Point{(p.x - f.x) / f.size, (p.y - f.y) / f.size}; };
  const int unknowns = model == MapModel::similarity ? 4 : 8;
  Eigen::MatrixXd normal = Eigen::MatrixXd::Zero(unknowns, unknowns);
  Eigen::VectorXd right = Eigen::VectorXd::Zero(unknowns);
  const Homography toIn{{1 / f.size, 0, -f.x / f.size, 0, 1 / f.size, -f.y / f.size, 0, 0, 1}};
  const Homography inside = toIn.after(now).after(toIn.inverse());
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    if (weights[i] <= 0) continue;
    const base::Point p = in(pairs[i].from), q = in(pairs[i].to);
    Eigen::VectorXd a(unknowns), b(unknowns);
    double w = weights[i];
    if (model == MapModel::similarity) {
      a << p.x, -p.y, 1, 0;
      b << p.y, p.x, 0, 1;
    } else {
      // Algebraic error over the denominator of the map so far is the geometric one.
      const double d = inside.m[6] * p.x + inside.m[7] * p.y + 1;
      a << p.x, p.y, 1, 0, 0, 0, -q.x * p.x, -q.x * p.y;
      b << 0, 0, 0, p.x, p.y, 1, -q.y * p.x, -q.y * p.y;
      w /= d * d;
    }
    normal.noalias() += w * (a * a.transpose() + b * b.transpose());
    right.noalias() += w * (a * q.x + b * q.y);
  }
  const Eigen::VectorXd s = normal.ldlt().solve(right);
  Homography out = model == MapModel::similarity ? Homography{{s[0], -s[1], s[2], s[1], s[0], s[3], 0, 0, 1}}
                                                 : Homography{{s[0], s[1], s[2], s[3], s[4], s[5], s[6], s[7], 1}};
  return toIn.inverse().after(out).after(toIn);
}

double median(std::vector<double> v) {
  if (v.empty()) return 0;
  std::nth_element(v.begin(), v.begin() + long(v.size() / 2), v.end());
  return v[v.size() / 2];
}

}  // namespace

MapFit fitMap(const std::vector<Pair>& pairs, const Homography& start, MapModel model, double reachPx) {
  MapFit fit{start, std::vector<double>(pairs.size()), std::vector<char>(pairs.size())};
  Centred f;
  if (!pairs.empty()) {
    double x = 0, y = 0, spread = 0;
    for (const Pair& p : pairs) x += p.from.x, y += p.from.y;
    f.x = x / double(pairs.size()), f.y = y / double(pairs.size());
    for (const Pair& p : pairs) spread += std::hypot(p.from.x - f.x, p.from.y - f.y);
    f.size = std::max(1.0, spread / double(pairs.size()));
  }
  const auto measure = [&](double reach) {
    std::vector<double> near;
    for (std::size_t i = 0; i < pairs.size(); ++i) {
      fit.offPx[i] = offOf(fit.map, pairs[i]);
      if (fit.offPx[i] < reach) near.push_back(fit.offPx[i] / sigmaOf(pairs[i]));
    }
    return near;
  };
  double reach = reachPx;
  for (int round = 0; round < kRounds; ++round) {
    const auto near = measure(reach);
    if (near.size() < 6) break;
    // The median length of a two-dimensional Gaussian is 1.177 of its standard deviation.
    const double scale = std::max(0.3, median(near) / 1.177);
    std::vector<double> weights(pairs.size());
    for (std::size_t i = 0; i < pairs.size(); ++i) {
      const double u = fit.offPx[i] / sigmaOf(pairs[i]) / (kTukey * scale);
      fit.fits[i] = char(u < 1 && fit.offPx[i] < reach);
      weights[i] = fit.fits[i] ? (1 - u * u) * (1 - u * u) / (sigmaOf(pairs[i]) * sigmaOf(pairs[i])) : 0;
    }
    if (std::count(fit.fits.begin(), fit.fits.end(), 1) < 6) break;
    const Homography next = solve(pairs, weights, model, f, fit.map);
    if (!std::isfinite(next.m[0] + next.m[4] + next.m[6])) break;
    fit.map = next;
    reach = std::max(1.0, reach * 0.6);
  }
  measure(reach);
  return fit;
}

MapFit fitMap(const std::vector<Pair>& pairs, const Homography& start, double reachPx) {
  MapFit wide = fitMap(pairs, start, MapModel::homography, reachPx), narrow = fitMap(pairs, start, MapModel::similarity, reachPx);
  // Over what fits the wider model.
  double narrowSum = 0, wideSum = 0;
  int count = 0;
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    if (!wide.fits[i]) continue;
    const double s = sigmaOf(pairs[i]);
    wideSum += wide.offPx[i] * wide.offPx[i] / (s * s);
    narrowSum += std::min(narrow.offPx[i] * narrow.offPx[i], 100.0) / (s * s);
    ++count;
  }
  if (count < 12) return narrow;
  constexpr double kClearlyBetter = 15;  // F(4, many) is 4.7 at 1 in 1000; what is moved and half hidden makes it larger
  const double f = (narrowSum - wideSum) / 4 / (wideSum / (2.0 * count - 8));
  return f > kClearlyBetter ? wide : narrow;
}

}  // namespace hseam::frames
