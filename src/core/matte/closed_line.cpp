#include "core/matte/closed_line.h"

#include <algorithm>
#include <cmath>

namespace hseam::matte {

using base::Point;

std::vector<Point> resampled(const std::vector<Point>& p, double length) {
  const int count = std::max(8, int(std::lround(length)));
  std::vector<Point> out;
  const double step = length / count;
  double along = 0, next = 0;
  for (std::size_t i = 0; i < p.size() && int(out.size()) < count; ++i) {
    const Point &a = p[i], &b = p[(i + 1) % p.size()];
    const double d = std::hypot(b.x - a.x, b.y - a.y);
    while (next <= along + d && int(out.size()) < count) {
      const double t = d > 0 ? (next - along) / d : 0;
      out.push_back({a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t});
      next += step;
    }
    along += d;
  }
  return out;
}

std::vector<Point> smoothed(const std::vector<Point>& p, double sigma) {
  const int n = int(p.size()), r = std::min(int(3 * sigma), n / 2);
  std::vector<double> w;
  double sum = 0;
  for (int k = -r; k <= r; ++k) sum += w.emplace_back(std::exp(-k * k / (2 * sigma * sigma)));
  std::vector<Point> out(p.size());
  for (int i = 0; i < n; ++i) {
    Point q{0, 0};
    for (int k = 0; k <= 2 * r; ++k) {
      const Point& s = p[std::size_t(((i + k - r) % n + n) % n)];
      q.x += s.x * w[std::size_t(k)] / sum;
      q.y += s.y * w[std::size_t(k)] / sum;
    }
    out[std::size_t(i)] = q;
  }
  return out;
}

}  // namespace hseam::matte
