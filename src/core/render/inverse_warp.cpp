#include "core/render/inverse_warp.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/inverse_warp.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// A projective map of `count` px of a row; NaN in atX beyond the picture's own horizon.
void projected(const std::array<double, 9>& h, const base::Affine& toBent, double first, double y, int count, float* atX,
               float* atY) {
  // Both maps in one: each sum is linear along the row.
  struct Sum {
    double by, first;
  };
  const auto of = [&](std::size_t k) {
    const double by = h[k] * toBent.a + h[k + 1] * toBent.c;
    const double down = h[k] * toBent.b + h[k + 1] * toBent.d, at = h[k] * toBent.e + h[k + 1] * toBent.f + h[k + 2];
    return Sum{by, down * y + at};
  };
  const Sum sx = of(0), sy = of(3), sw = of(6);
  const auto one = [&](int i, double& x, double& yy, double& w) {
    const double at = first + i;
    x = sx.by * at + sx.first, yy = sy.by * at + sy.first, w = sw.by * at + sw.first;
  };
  int i = 0;
#if HWY_HAVE_FLOAT64
  const hn::ScalableTag<double> d;
  const hn::Rebind<float, decltype(d)> df;
  const int lanes = int(hn::Lanes(d));
  for (; i + lanes <= count; i += lanes) {
    const auto at = hn::Add(hn::Iota(d, 0.0), hn::Set(d, first + i));
    const auto sum = [&](const Sum& s) { return hn::Add(hn::Mul(hn::Set(d, s.by), at), hn::Set(d, s.first)); };
    const auto w = sum(sw), inverse = hn::Div(hn::Set(d, 1.0), w);
    const auto x = hn::IfThenElse(hn::Gt(w, hn::Set(d, 1e-9)), hn::Mul(sum(sx), inverse), hn::Set(d, double(NAN)));
    hn::StoreU(hn::DemoteTo(df, x), df, atX + i);
    hn::StoreU(hn::DemoteTo(df, hn::Mul(sum(sy), inverse)), df, atY + i);
  }
#endif
  for (; i < count; ++i) {
    double x, yy, w;
    one(i, x, yy, w);
    const double inverse = 1 / w;
    atX[i] = w > 1e-9 ? float(x * inverse) : NAN;
    atY[i] = float(yy * inverse);
  }
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {
namespace {

HWY_EXPORT(projected);

using base::Point;
using base::Rect;

constexpr int kNet = 320;   // places along the longer side; half as many where the output is a quarter of the picture or less
constexpr int kBeyond = 2;  // places of the net outside the picture, so that its border is found
constexpr std::size_t kKept = 12;

}  // namespace

InverseWarp::InverseWarp(const scene::Warp& warp, base::Size size, int level) : bounds_(scene::boundsOf(warp, size)) {
  const double w = size.width, h = size.height;
  if (warp.tacks.empty() && warp.grid.empty() && warp.corners.size() == 4) {
    exact_ = scene::homography({warp.corners[0], warp.corners[1], warp.corners[2], warp.corners[3]},
                               {Point{0, 0}, {w, 0}, {w, h}, {0, h}});
    if (exact_) return;
  }
  step_ = std::max(2.0, std::max(w, h) / (level >= 2 ? kNet / 2 : kNet));
  const Rect bounds = bounds_.grown(int(kBeyond * step_) + 2);
  left_ = bounds.x, top_ = bounds.y;
  across_ = int(bounds.width / step_) + 2, down_ = int(bounds.height / step_) + 2;
  // A bend may not ask for more than the picture itself would twenty times over.
  constexpr int kMost = 20 * kNet * kNet;
  while (double(across_) * down_ > kMost) step_ *= 2, across_ = across_ / 2 + 1, down_ = down_ / 2 + 1;
  x_.assign(std::size_t(across_) * std::size_t(down_), NAN);
  y_ = x_;
  // The picture's own net, a little beyond its border, laid where it goes: each triangle fills the places under it. All in
  // steps of the net.
  const int nx = int(std::ceil(w / step_)) + 2 * kBeyond, ny = int(std::ceil(h / step_)) + 2 * kBeyond;
  const auto high = std::size_t(ny) + 1;
  std::vector<Point> to((std::size_t(nx) + 1) * high);  // column after column
  const scene::WarpMap map(warp, size);
  const auto source = [&](int i, int j) { return Point{(i - kBeyond) * step_, (j - kBeyond) * step_}; };
  for (int i = 0; i <= nx; ++i) map.column(source(i, 0), step_, high, to.data() + std::size_t(i) * high);
  for (Point& p : to) p = {(p.x - left_) / step_, (p.y - top_) / step_};
  for (int i = 0; i < nx; ++i) {
    for (int j = 0; j < ny; ++j) {
      const auto at = [&](int a, int b) { return to[std::size_t(i + a) * high + std::size_t(j + b)]; };
      fill({at(0, 0), at(1, 0), at(0, 1)}, source(i, j), step_);
      fill({at(1, 1), at(0, 1), at(1, 0)}, source(i + 1, j + 1), -step_);
    }
  }
}

// A triangle of the bent net with the right angle of the picture's own at its first corner; its legs, along x and y, are `leg`
// long.
void InverseWarp::fill(const std::array<Point, 3>& at, Point from, double leg) {
  const double ax = at[1].x - at[0].x, ay = at[1].y - at[0].y, bx = at[2].x - at[0].x, by = at[2].y - at[0].y;
  const double area = ax * by - bx * ay;
  if (std::abs(area) * step_ * step_ < 1e-9) return;
  const double k = 1 / area;
  constexpr double kEven = 1e-9;
  const auto up = [](double v) { return int(v) + (double(int(v)) < v); };
  const auto down = [](double v) { return int(v) - (double(int(v)) > v); };
  const int left = std::max(0, up(std::min({at[0].x, at[1].x, at[2].x}) - kEven)),
            right = std::min(across_ - 1, down(std::max({at[0].x, at[1].x, at[2].x}) + kEven)),
            top = std::max(0, up(std::min({at[0].y, at[1].y, at[2].y}) - kEven)),
            bottom = std::min(down_ - 1, down(std::max({at[0].y, at[1].y, at[2].y}) + kEven));
  for (int y = top; y <= bottom; ++y) {
    for (int x = left; x <= right; ++x) {
      const double px = x - at[0].x, py = y - at[0].y, u = (px * by - py * bx) * k, v = (py * ax - px * ay) * k;
      if (u < -kEven || v < -kEven || u + v > 1 + kEven) continue;
      const auto i = std::size_t(y) * std::size_t(across_) + std::size_t(x);
      x_[i] = float(from.x + u * leg);
      y_[i] = float(from.y + v * leg);
    }
  }
}

std::optional<Point> InverseWarp::at(Point p) const {
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

void InverseWarp::row(const base::Affine& toBent, int first, int y, int count, float* atX, float* atY) const {
  const double x0 = first + 0.5, yy = y + 0.5;
  if (exact_) {
    HWY_DYNAMIC_DISPATCH(projected)(*exact_, toBent, x0, yy, count, atX, atY);
    return;
  }
  const double k = 1 / step_;
  const double u0 = (toBent.b * yy + toBent.e - left_) * k, v0 = (toBent.d * yy + toBent.f - top_) * k;
  for (int i = 0; i < count; ++i) {
    const double u = u0 + toBent.a * k * (x0 + i), v = v0 + toBent.c * k * (x0 + i);
    atX[i] = NAN, atY[i] = 0;
    if (!(u >= 0 && v >= 0 && u < across_ - 1 && v < down_ - 1)) continue;
    const int iu = int(u), iv = int(v);
    const auto fu = float(u - iu), fv = float(v - iv);
    const std::size_t n = std::size_t(iv) * std::size_t(across_) + std::size_t(iu), below = n + std::size_t(across_);
    const auto between = [&](const float* t) {
      const float upper = t[n] + fu * (t[n + 1] - t[n]), lower = t[below] + fu * (t[below + 1] - t[below]);
      return upper + fv * (lower - upper);
    };
    atX[i] = between(x_.data()), atY[i] = between(y_.data());
  }
}

std::shared_ptr<const InverseWarp> InverseWarps::of(const std::shared_ptr<const scene::Warp>& warp, base::Size picture,
                                                    int level) {
  const bool coarse = level >= 2;
  std::shared_ptr<Kept> kept;
  {
    const std::lock_guard lock(mutex_);
    const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const auto& k) {
      return k->warp == warp && k->picture == picture && k->coarse == coarse;
    });
    if (found != kept_.end()) {
      kept = *found;
    } else {
      kept = std::make_shared<Kept>(warp, picture, coarse);
      if (kept_.size() >= kKept) kept_.erase(kept_.begin());
      kept_.push_back(kept);
    }
  }
  // Whoever comes second waits for the first.
  std::call_once(kept->made, [&] { kept->way = std::make_shared<const InverseWarp>(*warp, picture, level); });
  return kept->way;
}

}  // namespace hseam::render
#endif
