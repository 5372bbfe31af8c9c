#include "core/scene/warp.h"

#include <algorithm>
#include <cmath>

namespace hseam::scene {
namespace {

using base::Point;

constexpr std::size_t kMostLines = 16;  // of a grid, as WarpMap holds

Point operator+(Point a, Point b) {
  return {a.x + b.x, a.y + b.y};
}
Point operator-(Point a, Point b) {
  return {a.x - b.x, a.y - b.y};
}
Point operator*(Point a, double k) {
  return {a.x * k, a.y * k};
}

// The rigid transformation of moving least squares: weights fall with the square of the distance. One pass: about the weighted
// middles p and q, Σ w (a − p)·(b − q) is Σ w a·b − Σw p·q, and so is the cross product.
Point byTacks(const std::vector<Tack>& tacks, Point v) {
  if (tacks.size() == 1) return v + (tacks[0].to - tacks[0].from);
  double sum = 0, dots = 0, crosses = 0;
  Point p{}, q{};  // from v
  for (const Tack& t : tacks) {
    const Point a = t.from - v, b = t.to - v;
    const double square = a.x * a.x + a.y * a.y;
    if (square < 1e-12) return t.to;
    const double w = 1 / square;
    sum += w;
    p = p + a * w;
    q = q + b * w;
    dots += w * (a.x * b.x + a.y * b.y);
    crosses += w * (a.x * b.y - a.y * b.x);
  }
  p = p * (1 / sum), q = q * (1 / sum);
  // The best rotation about them.
  const double c = dots - sum * (p.x * q.x + p.y * q.y), s = crosses - sum * (p.x * q.y - p.y * q.x);
  const double length = std::sqrt(c * c + s * s);
  if (length < 1e-12 * (std::abs(dots) + 1)) return v + q - p;
  const double cosine = c / length, sine = s / length;
  return v + q - Point{cosine * p.x - sine * p.y, sine * p.x + cosine * p.y};
}

// Cubic Hermite through values at knots, with slopes from the neighbours; beyond the ends it goes on straight.
Point through(const std::vector<double>& knots, const Point* values, double t) {
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

WarpMap::WarpMap(const Warp& w, base::Size size)
    : warp_(w),
      size_(size),
      grid_(!w.grid.empty() && w.rows.size() <= kMostLines && w.grid.size() == w.rows.size() * w.columns.size()) {
  if (w.corners.size() == 4) corners_ = homography(cornersOf(size), {w.corners[0], w.corners[1], w.corners[2], w.corners[3]});
}

// Where the grid's rows are at x …
WarpMap::Across WarpMap::acrossAt(double x) const {
  Across across;
  for (std::size_t r = 0; r < warp_.rows.size(); ++r)
    across[r] = through(warp_.columns, warp_.grid.data() + r * warp_.columns.size(), x / size_.width);
  return across;
}

// … and from them where y is, and where the corners take that.
Point WarpMap::below(const Across& across, double y) const {
  const Point p = through(warp_.rows, across.data(), y / size_.height);
  return corners_ ? mapped(*corners_, p) : p;
}

Point WarpMap::operator()(Point p) const {
  if (!warp_.tacks.empty()) p = byTacks(warp_.tacks, p);
  if (grid_) return below(acrossAt(p.x), p.y);
  return corners_ ? mapped(*corners_, p) : p;
}

void WarpMap::column(Point first, double step, std::size_t count, Point* out) const {
  const bool once = grid_ && warp_.tacks.empty();
  const Across across = once ? acrossAt(first.x) : Across{};
  for (std::size_t k = 0; k < count; ++k) {
    const double y = first.y + double(k) * step;
    out[k] = once ? below(across, y) : (*this)({first.x, y});
  }
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
  const auto clamped = [](double v) { return int(std::clamp(v, -1e7, 1e7)); };
  // Between the places tried it may bulge a little.
  const int margin = 2 + clamped((r - l + b - t) / 200);
  return base::Rect{clamped(std::floor(l)), clamped(std::floor(t)), clamped(r - l) + 2, clamped(b - t) + 2}.grown(margin);
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
  if (w.grid.empty() || lines.size() >= kMostLines) return w;
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
    return v.size() >= 2 && v.size() <= kMostLines && v.front() == 0 && v.back() == 1 &&
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
