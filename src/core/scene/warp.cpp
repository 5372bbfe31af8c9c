#include "core/scene/warp.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {
namespace {

using base::Point;

Point operator+(Point a, Point b) {
  return {a.x + b.x, a.y + b.y};
}
Point operator-(Point a, Point b) {
  return {a.x - b.x, a.y - b.y};
}
Point operator*(Point a, double k) {
  return {a.x * k, a.y * k};
}

// The rigid transformation of moving least squares: weights fall with the square of the distance.
Point byTacks(const std::vector<Tack>& tacks, Point v) {
  if (tacks.size() == 1) return v + (tacks[0].to - tacks[0].from);
  std::vector<double> w;
  double sum = 0;
  Point p{}, q{};
  for (const Tack& t : tacks) {
    const Point d = t.from - v;
    const double square = d.x * d.x + d.y * d.y;
    if (square < 1e-12) return t.to;
    w.push_back(1 / square);
    sum += w.back();
    p = p + t.from * w.back();
    q = q + t.to * w.back();
  }
  p = p * (1 / sum), q = q * (1 / sum);
  // The best rotation about the weighted middles.
  double c = 0, s = 0;
  for (std::size_t i = 0; i < tacks.size(); ++i) {
    const Point a = tacks[i].from - p, b = tacks[i].to - q;
    c += w[i] * (a.x * b.x + a.y * b.y);
    s += w[i] * (a.x * b.y - a.y * b.x);
  }
  const double length = std::hypot(c, s);
  const Point d = v - p;
  if (length < 1e-12) return q + d;
  c /= length, s /= length;
  return q + Point{c * d.x - s * d.y, s * d.x + c * d.y};
}

// Cubic Hermite through values at knots, with slopes from the neighbours; beyond the ends it goes on straight.
Point through(const std::vector<double>& knots, const std::vector<Point>& values, double t) {
  const std::size_t n = knots.size();
  const auto slope = [&](std::size_t i) {
    const std::size_t a = i > 0 ? i - 1 : 0, b = std::min(i + 1, n - 1);
    return (values[b] - values[a]) * (1 / (knots[b] - knots[a]));
  };
  if (t <= 0) return values[0] + slope(0) * t;
  if (t >= 1) return values[n - 1] + slope(n - 1) * (t - 1);
  const auto next = std::upper_bound(knots.begin() + 1, knots.end() - 1, t);
  const auto i = std::size_t(next - knots.begin()) - 1;
  const double h = knots[i + 1] - knots[i], u = (t - knots[i]) / h, u2 = u * u, u3 = u2 * u;
  return values[i] * (2 * u3 - 3 * u2 + 1) + slope(i) * (h * (u3 - 2 * u2 + u)) + values[i + 1] * (3 * u2 - 2 * u3) +
         slope(i + 1) * (h * (u3 - u2));
}

std::array<Point, 4> cornersOf(base::Size s) {
  const double w = s.width, h = s.height;
  return {Point{0, 0}, {w, 0}, {w, h}, {0, h}};
}

}  // namespace

// Heckbert 1989: the eight unknowns of four correspondences, by elimination.
std::optional<std::array<double, 9>> homography(const std::array<Point, 4>& from, const std::array<Point, 4>& to) {
  double m[8][9];
  for (int i = 0; i < 4; ++i) {
    const Point &p = from[std::size_t(i)], &q = to[std::size_t(i)];
    const double a[9] = {p.x, p.y, 1, 0, 0, 0, -p.x * q.x, -p.y * q.x, q.x},
                 b[9] = {0, 0, 0, p.x, p.y, 1, -p.x * q.y, -p.y * q.y, q.y};
    std::copy_n(a, 9, m[2 * i]);
    std::copy_n(b, 9, m[2 * i + 1]);
  }
  for (int c = 0; c < 8; ++c) {
    int best = c;
    for (int r = c + 1; r < 8; ++r) {
      if (std::abs(m[r][c]) > std::abs(m[best][c])) best = r;
    }
    if (std::abs(m[best][c]) < 1e-9) return std::nullopt;
    std::swap_ranges(m[c], m[c] + 9, m[best]);
    for (int r = 0; r < 8; ++r) {
      if (r == c) continue;
      const double k = m[r][c] / m[c][c];
      for (int j = c; j < 9; ++j) m[r][j] -= k * m[c][j];
    }
  }
  std::array<double, 9> h{};
  for (std::size_t i = 0; i < 8; ++i) h[i] = m[i][8] / m[i][i];
  h[8] = 1;
  return h;
}

Point mapped(const std::array<double, 9>& h, Point p) {
  const double w = h[6] * p.x + h[7] * p.y + h[8];
  return {(h[0] * p.x + h[1] * p.y + h[2]) / w, (h[3] * p.x + h[4] * p.y + h[5]) / w};
}

WarpMap::WarpMap(const Warp& w, base::Size size) : warp_(w), size_(size) {
  for (std::size_t r = 0; !w.grid.empty() && r < w.rows.size(); ++r) {
    const auto first = w.grid.begin() + long(r * w.columns.size());
    rows_.emplace_back(first, first + long(w.columns.size()));
  }
  if (w.corners.size() == 4) corners_ = homography(cornersOf(size), {w.corners[0], w.corners[1], w.corners[2], w.corners[3]});
}

Point WarpMap::operator()(Point p) const {
  if (!warp_.tacks.empty()) p = byTacks(warp_.tacks, p);
  if (!rows_.empty()) {
    std::vector<Point> across;
    across.reserve(rows_.size());
    for (const auto& row : rows_) across.push_back(through(warp_.columns, row, p.x / size_.width));
    p = through(warp_.rows, across, p.y / size_.height);
  }
  return corners_ ? mapped(*corners_, p) : p;
}

Point mapped(const Warp& w, base::Size size, Point p) {
  return WarpMap(w, size)(p);
}

base::Rect boundsOf(const Warp& w, base::Size size) {
  constexpr int kSteps = 32;
  const WarpMap map(w, size);
  double l = INFINITY, t = INFINITY, r = -INFINITY, b = -INFINITY;
  for (int j = 0; j <= kSteps; ++j) {
    for (int i = 0; i <= kSteps; ++i) {
      const Point p = map({double(size.width) * i / kSteps, double(size.height) * j / kSteps});
      l = std::min(l, p.x), r = std::max(r, p.x), t = std::min(t, p.y), b = std::max(b, p.y);
    }
  }
  const auto held = [](double v) { return int(std::clamp(v, -1e7, 1e7)); };
  // Between the places tried it may bulge a little.
  const int margin = 2 + held((r - l + b - t) / 200);
  return base::Rect{held(std::floor(l)), held(std::floor(t)), held(r - l) + 2, held(b - t) + 2}.grown(margin);
}

Warp scaled(Warp w, const base::Affine& grow) {
  for (Tack& t : w.tacks) t = {grow.map(t.from), grow.map(t.to)};
  for (Point& p : w.grid) p = grow.map(p);
  for (Point& p : w.corners) p = grow.map(p);
  return w;
}

Warp withGrid(Warp w, base::Size size, int columns, int rows) {
  w.columns.clear(), w.rows.clear(), w.grid.clear();
  for (int i = 0; i <= columns; ++i) w.columns.push_back(double(i) / columns);
  for (int i = 0; i <= rows; ++i) w.rows.push_back(double(i) / rows);
  for (const double y : w.rows) {
    for (const double x : w.columns) w.grid.push_back({x * size.width, y * size.height});
  }
  return w;
}

Warp withSplit(const Warp& w, base::Size size, double at, bool column) {
  Warp out = w;
  auto& lines = column ? out.columns : out.rows;
  if (w.grid.empty() || lines.size() >= 16) return w;
  const auto next = std::upper_bound(lines.begin(), lines.end(), at);
  if (next == lines.begin() || next == lines.end() || at - *(next - 1) < 0.01 || *next - at < 0.01) return w;
  lines.insert(next, at);
  out.grid.clear();
  Warp gridAlone = w;
  gridAlone.tacks.clear(), gridAlone.corners.clear();
  const WarpMap map(gridAlone, size);
  for (const double y : out.rows) {
    for (const double x : out.columns) out.grid.push_back(map({x * size.width, y * size.height}));
  }
  return out;
}

base::Status validWarp(const Warp& w, base::Size size) {
  const auto wrong = [](const char* what) { return base::Error{base::Code::invalid, "", what}; };
  const auto near = [](const Point& p) { return std::abs(p.x) < 1e6 && std::abs(p.y) < 1e6; };
  const auto rises = [](const std::vector<double>& v) {
    return v.size() >= 2 && v.size() <= 16 && v.front() == 0 && v.back() == 1 &&
           std::is_sorted(v.begin(), v.end(), [](double a, double b) { return a <= b; });
  };
  if (w.tacks.size() > 64) return wrong("there are too many tacks");
  for (const Tack& t : w.tacks) {
    if (!near(t.from) || !near(t.to)) return wrong("a tack is out of reach");
  }
  if (!w.grid.empty()) {
    if (!rises(w.columns) || !rises(w.rows) || w.grid.size() != w.columns.size() * w.rows.size())
      return wrong("the grid's lines do not fit together");
    if (!std::all_of(w.grid.begin(), w.grid.end(), near)) return wrong("a crossing of the grid is out of reach");
  }
  if (!w.corners.empty()) {
    if (w.corners.size() != 4 || !std::all_of(w.corners.begin(), w.corners.end(), near))
      return wrong("a picture has four corners, within reach");
    // Convex and not turned over, else the map would fold.
    for (std::size_t i = 0; i < 4; ++i) {
      const Point a = w.corners[(i + 1) % 4] - w.corners[i], b = w.corners[(i + 2) % 4] - w.corners[(i + 1) % 4];
      if (a.x * b.y - a.y * b.x < 1e-3) return wrong("the four corners must stay in order and bulge outwards");
    }
    if (!homography(cornersOf(size), {w.corners[0], w.corners[1], w.corners[2], w.corners[3]}))
      return wrong("the four corners lie too close together");
  }
  return {};
}

}  // namespace hseam::scene
