#include "core/render/way_back.h"

#include <algorithm>
#include <cmath>

namespace hseam::render {
namespace {

using base::Point;
using base::Rect;

constexpr int kNet = 320;   // places along the longer side
constexpr int kBeyond = 2;  // places of the net outside the picture, so that its border is found
constexpr std::size_t kKept = 12;

}  // namespace

WayBack::WayBack(const scene::Warp& warp, base::Size size) : bounds_(scene::boundsOf(warp, size)) {
  const double w = size.width, h = size.height;
  if (warp.tacks.empty() && warp.grid.empty() && warp.corners.size() == 4) {
    exact_ = scene::homography({warp.corners[0], warp.corners[1], warp.corners[2], warp.corners[3]},
                               {Point{0, 0}, {w, 0}, {w, h}, {0, h}});
    if (exact_) return;
  }
  step_ = std::max(2.0, std::max(w, h) / kNet);
  const Rect bounds = bounds_.grown(int(kBeyond * step_) + 2);
  left_ = bounds.x, top_ = bounds.y;
  across_ = int(bounds.width / step_) + 2, down_ = int(bounds.height / step_) + 2;
  // A bend may not ask for more than the picture itself would twenty times over.
  constexpr int kMost = 20 * kNet * kNet;
  while (double(across_) * down_ > kMost) step_ *= 2, across_ = across_ / 2 + 1, down_ = down_ / 2 + 1;
  x_.assign(std::size_t(across_) * std::size_t(down_), NAN);
  y_ = x_;
  // The picture's own net, a little beyond its border, laid where it goes: each triangle fills the places under it.
  const int nx = int(std::ceil(w / step_)) + 2 * kBeyond, ny = int(std::ceil(h / step_)) + 2 * kBeyond;
  std::vector<Point> to(std::size_t(nx + 1) * std::size_t(ny + 1));
  const scene::WarpMap map(warp, size);
  const auto source = [&](int i, int j) { return Point{(i - kBeyond) * step_, (j - kBeyond) * step_}; };
  for (int j = 0; j <= ny; ++j) {
    for (int i = 0; i <= nx; ++i)
      to[std::size_t(j) * std::size_t(nx + 1) + std::size_t(i)] = map(source(i, j));
  }
  const auto fill = [&](const Point(&at)[3], const Point(&from)[3]) {
    const double det = (at[1].x - at[0].x) * (at[2].y - at[0].y) - (at[2].x - at[0].x) * (at[1].y - at[0].y);
    if (std::abs(det) < 1e-9) return;
    const auto column = [&](double x) { return (x - left_) / step_; };
    const auto row = [&](double y) { return (y - top_) / step_; };
    const int l = std::max(0, int(std::ceil(column(std::min({at[0].x, at[1].x, at[2].x})) - 1e-9))),
              r = std::min(across_ - 1, int(std::floor(column(std::max({at[0].x, at[1].x, at[2].x})) + 1e-9))),
              t = std::max(0, int(std::ceil(row(std::min({at[0].y, at[1].y, at[2].y})) - 1e-9))),
              b = std::min(down_ - 1, int(std::floor(row(std::max({at[0].y, at[1].y, at[2].y})) + 1e-9)));
    for (int y = t; y <= b; ++y) {
      for (int x = l; x <= r; ++x) {
        const double px = left_ + x * step_ - at[0].x, py = top_ + y * step_ - at[0].y;
        const double u = (px * (at[2].y - at[0].y) - py * (at[2].x - at[0].x)) / det,
                     v = (py * (at[1].x - at[0].x) - px * (at[1].y - at[0].y)) / det;
        if (u < -1e-9 || v < -1e-9 || u + v > 1 + 1e-9) continue;
        const auto i = std::size_t(y) * std::size_t(across_) + std::size_t(x);
        x_[i] = float(from[0].x + u * (from[1].x - from[0].x) + v * (from[2].x - from[0].x));
        y_[i] = float(from[0].y + u * (from[1].y - from[0].y) + v * (from[2].y - from[0].y));
      }
    }
  };
  for (int j = 0; j < ny; ++j) {
    for (int i = 0; i < nx; ++i) {
      const auto at = [&](int a, int b) { return to[std::size_t(j + b) * std::size_t(nx + 1) + std::size_t(i + a)]; };
      fill({at(0, 0), at(1, 0), at(0, 1)}, {source(i, j), source(i + 1, j), source(i, j + 1)});
      fill({at(1, 1), at(1, 0), at(0, 1)}, {source(i + 1, j + 1), source(i + 1, j), source(i, j + 1)});
    }
  }
}

std::optional<Point> WayBack::at(Point p) const {
  if (exact_) {
    const double w = (*exact_)[6] * p.x + (*exact_)[7] * p.y + (*exact_)[8];
    if (w <= 1e-9) return std::nullopt;  // beyond the picture's own horizon
    return scene::mapped(*exact_, p);
  }
  const double x = (p.x - left_) / step_, y = (p.y - top_) / step_;
  const int ix = int(std::floor(x)), iy = int(std::floor(y));
  if (ix < 0 || iy < 0 || ix + 1 >= across_ || iy + 1 >= down_) return std::nullopt;
  const auto i = std::size_t(iy) * std::size_t(across_) + std::size_t(ix), j = i + std::size_t(across_);
  const double fx = x - ix, fy = y - iy;
  const auto between = [&](const std::vector<float>& v) {
    return (double(v[i]) * (1 - fx) + double(v[i + 1]) * fx) * (1 - fy) + (double(v[j]) * (1 - fx) + double(v[j + 1]) * fx) * fy;
  };
  const Point out{between(x_), between(y_)};
  if (std::isnan(out.x)) return std::nullopt;
  return out;
}

void WayBack::row(const base::Affine& toBent, int first, int y, int count, float* atX, float* atY) const {
  const double x0 = first + 0.5, yy = y + 0.5;
  if (exact_) {
    const auto& h = *exact_;
    for (int k = 0; k < count; ++k) {
      const double bx = toBent.a * (x0 + k) + toBent.b * yy + toBent.e, by = toBent.c * (x0 + k) + toBent.d * yy + toBent.f;
      const double w = h[6] * bx + h[7] * by + h[8], inverse = 1 / w;
      const auto x = float((h[0] * bx + h[1] * by + h[2]) * inverse);
      atX[k] = w > 1e-9 ? x : NAN;  // beyond the picture's own horizon
      atY[k] = float((h[3] * bx + h[4] * by + h[5]) * inverse);
    }
    return;
  }
  for (int k = 0; k < count; ++k) {
    const auto p = at(toBent.map({x0 + k, yy}));
    atX[k] = p ? float(p->x) : NAN;
    atY[k] = p ? float(p->y) : 0.f;
  }
}

std::shared_ptr<const WayBack> WaysBack::of(const std::shared_ptr<const scene::Warp>& warp, base::Size picture) {
  {
    const std::lock_guard lock(mutex_);
    for (const Kept& k : kept_) {
      if (k.warp == warp && k.picture == picture) return k.way;
    }
  }
  auto way = std::make_shared<const WayBack>(*warp, picture);
  const std::lock_guard lock(mutex_);
  if (kept_.size() >= kKept) kept_.erase(kept_.begin());
  kept_.push_back({warp, picture, way});
  return way;
}

}  // namespace hseam::render
