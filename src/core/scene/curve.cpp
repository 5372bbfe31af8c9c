#include "core/scene/curve.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {

MonotoneCurve::MonotoneCurve(CurvePoints points) : points_(std::move(points)) {
  const std::size_t n = points_.size();
  if (n < 2) return;
  std::vector<double> secant(n - 1);
  for (std::size_t i = 0; i + 1 < n; ++i)
    secant[i] = (points_[i + 1].second - points_[i].second) / (points_[i + 1].first - points_[i].first);
  slopes_.resize(n);
  slopes_[0] = secant[0];
  slopes_[n - 1] = secant[n - 2];
  for (std::size_t i = 1; i + 1 < n; ++i) slopes_[i] = secant[i - 1] * secant[i] <= 0 ? 0 : (secant[i - 1] + secant[i]) / 2;
  for (std::size_t i = 0; i + 1 < n; ++i) {
    if (secant[i] == 0) {
      slopes_[i] = slopes_[i + 1] = 0;
      continue;
    }
    const double a = slopes_[i] / secant[i], b = slopes_[i + 1] / secant[i], length = std::hypot(a, b);
    if (length > 3) {
      slopes_[i] = 3 / length * a * secant[i];
      slopes_[i + 1] = 3 / length * b * secant[i];
    }
  }
}

double MonotoneCurve::operator()(double x) const {
  if (points_.empty()) return x;
  if (x <= points_.front().first || points_.size() == 1) return points_.front().second;
  if (x >= points_.back().first) return points_.back().second;
  const auto above = std::upper_bound(points_.begin(), points_.end(), x, [](double v, const auto& p) { return v < p.first; });
  const std::size_t i = std::size_t(above - points_.begin()) - 1;
  const double h = points_[i + 1].first - points_[i].first, t = (x - points_[i].first) / h, t2 = t * t, t3 = t2 * t;
  return points_[i].second * (2 * t3 - 3 * t2 + 1) + h * slopes_[i] * (t3 - 2 * t2 + t) +
         points_[i + 1].second * (3 * t2 - 2 * t3) + h * slopes_[i + 1] * (t3 - t2);
}

bool validCurve(const CurvePoints& points) {
  for (std::size_t i = 0; i < points.size(); ++i) {
    const auto [x, y] = points[i];
    if (!(x >= 0 && x <= 1 && y >= 0 && y <= 1)) return false;
    if (i > 0 && !(x > points[i - 1].first)) return false;
  }
  return true;
}

}  // namespace hseam::scene
