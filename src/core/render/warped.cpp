#include "core/render/warped.h"

#include <algorithm>
#include <cmath>

#include "core/image/transfer.h"

namespace hseam::render {
namespace {

using base::Point;
using base::Rect;
using image::Raster;

constexpr int kNet = 320;   // places along the longer side
constexpr int kBeyond = 2;  // places of the net outside the picture, so that its border is found
constexpr std::size_t kKept = 12;

// Keys 1981, a = −1/2.
void catmullRom(float t, float* w) {
  const float t2 = t * t, t3 = t2 * t;
  w[0] = -0.5f * t3 + t2 - 0.5f * t;
  w[1] = 1.5f * t3 - 2.5f * t2 + 1;
  w[2] = -1.5f * t3 + 2 * t2 + 0.5f * t;
  w[3] = 0.5f * t3 - 0.5f * t2;
}

// A window of one level as light times alpha, four channels.
struct Window {
  int level = 0;
  Rect area;
  base::Size size;
  Raster<float> light;
};

base::Result<Window> windowOf(const WarpedPicture& what, int level, const Rect& area) {
  Window w{level, area, what.colours->level(level).size, Raster<float>(area.width, area.height, 4)};
  HSEAM_TRY(const Raster<float> c, image::readFloat(*what.colours, level, area));
  Raster<float> m;
  if (what.mask) {
    HSEAM_TRY(m, image::readFloat(*what.mask, level, area));
  }
  const auto channels = std::size_t(c.channels());
  for (int y = 0; y < area.height; ++y) {
    for (int x = 0; x < area.width; ++x) {
      const auto i = std::size_t(y) * std::size_t(area.width) + std::size_t(x);
      float* to = w.light.samples().data() + i * 4;
      const bool inside = area.x + x >= 0 && area.y + y >= 0 && area.x + x < w.size.width && area.y + y < w.size.height;
      float a = inside ? 1.f : 0.f;
      if (channels == 4 || channels == 2) a *= c.samples()[i * channels + channels - 1];
      if (what.mask) a *= m.samples()[i];
      for (std::size_t k = 0; k < 3; ++k) to[k] = a * image::fastLinear(c.samples()[i * channels + (channels < 3 ? 0 : k)]);
      to[3] = a;
    }
  }
  return w;
}

void sample(const Window& w, Point p, float* out) {
  const double k = 1.0 / (1 << w.level), x = p.x * k - 0.5, y = p.y * k - 0.5;
  const int ix = int(std::floor(x)), iy = int(std::floor(y));
  float wx[4], wy[4];
  catmullRom(float(x - ix), wx);
  catmullRom(float(y - iy), wy);
  std::fill_n(out, 4, 0.f);
  const int left = ix - 1 - w.area.x, top = iy - 1 - w.area.y;
  if (left >= 0 && top >= 0 && left + 4 <= w.area.width && top + 4 <= w.area.height) {
    for (int j = 0; j < 4; ++j) {
      const float* from = w.light.at(left, top + j);
      for (int i = 0; i < 4; ++i, from += 4) {
        const float weight = wx[i] * wy[j];
        for (int c = 0; c < 4; ++c) out[c] += weight * from[c];
      }
    }
    return;
  }
  for (int j = 0; j < 4; ++j) {
    const int row = iy - 1 + j - w.area.y;
    if (row < 0 || row >= w.area.height) continue;
    for (int i = 0; i < 4; ++i) {
      const int column = ix - 1 + i - w.area.x;
      if (column < 0 || column >= w.area.width) continue;
      const float* from = w.light.at(column, row);
      const float weight = wx[i] * wy[j];
      for (int c = 0; c < 4; ++c) out[c] += weight * from[c];
    }
  }
}

}  // namespace

WayBack::WayBack(const scene::Warp& warp, base::Size size) {
  const double w = size.width, h = size.height;
  if (warp.tacks.empty() && warp.grid.empty() && warp.corners.size() == 4) {
    exact_ = scene::homography({warp.corners[0], warp.corners[1], warp.corners[2], warp.corners[3]},
                               {Point{0, 0}, {w, 0}, {w, h}, {0, h}});
    if (exact_) return;
  }
  step_ = std::max(2.0, std::max(w, h) / kNet);
  const Rect bounds = scene::boundsOf(warp, size).grown(int(kBeyond * step_) + 2);
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
  const auto source = [&](int i, int j) { return Point{(i - kBeyond) * step_, (j - kBeyond) * step_}; };
  for (int j = 0; j <= ny; ++j) {
    for (int i = 0; i <= nx; ++i)
      to[std::size_t(j) * std::size_t(nx + 1) + std::size_t(i)] = scene::mapped(warp, size, source(i, j));
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

base::Result<bool> sampleWarped(const WarpedPicture& what, const Rect& area, Planes& out) {
  const auto toBent = what.toOutput.inverse();
  if (!toBent) return false;
  const base::Size size = what.colours->size();
  struct Seen {
    Point at;
    int level = -1;
  };
  std::vector<Seen> seen(std::size_t(out.count()));
  const int levels = what.colours->levelCount();
  struct Reach {
    double left = 1e30, top = 1e30, right = -1e30, bottom = -1e30;  // px of the picture
  };
  std::vector<Reach> reach{std::size_t(levels)};
  // Each place is looked up once: a row's neighbours below are the next row.
  const auto rowOf = [&](int y, std::vector<std::optional<Point>>& row) {
    row.resize(std::size_t(area.width) + 1);
    for (int x = 0; x <= area.width; ++x) row[std::size_t(x)] = what.way->at(toBent->map({area.x + x + 0.5, area.y + y + 0.5}));
  };
  std::vector<std::optional<Point>> row, below;
  rowOf(0, row);
  for (int y = 0, i = 0; y < area.height; ++y, std::swap(row, below)) {
    rowOf(y + 1, below);
    for (int x = 0; x < area.width; ++x, ++i) {
      const auto &p = row[std::size_t(x)], &r = row[std::size_t(x) + 1], &d = below[std::size_t(x)];
      if (!p || p->x < -4 || p->y < -4 || p->x > size.width + 4 || p->y > size.height + 4) continue;
      // How far apart neighbours of the output lie in the picture.
      const auto square = [&](const std::optional<Point>& q) {
        return q ? (q->x - p->x) * (q->x - p->x) + (q->y - p->y) * (q->y - p->y) : 1.0;
      };
      const double reduction = std::max({1.0, square(r), square(d)});
      Seen& s = seen[std::size_t(i)];
      s.at = *p;
      // Read at most 1.4 px of a level for each px of the output.
      s.level = 0;
      for (double most = 1.4 * 1.4; reduction > most && s.level < levels - 1; most *= 4) ++s.level;
      Reach& n = reach[std::size_t(s.level)];
      n.left = std::min(n.left, p->x), n.right = std::max(n.right, p->x);
      n.top = std::min(n.top, p->y), n.bottom = std::max(n.bottom, p->y);
    }
  }
  std::vector<std::optional<Window>> windows{std::size_t(levels)};
  for (int n = 0; n < levels; ++n) {
    const Reach& far = reach[std::size_t(n)];
    if (far.right < far.left) continue;
    const double k = 1.0 / (1 << n);
    const int left = int(std::floor(far.left * k)) - 3, top = int(std::floor(far.top * k)) - 3;
    const Rect needed{left, top, int(std::floor(far.right * k)) + 4 - left, int(std::floor(far.bottom * k)) + 4 - top};
    const Rect part = needed.intersected(Rect::of(what.colours->level(n).size).grown(3));
    if (part.empty()) continue;
    HSEAM_TRY(windows[std::size_t(n)], windowOf(what, n, part));
  }
  bool any = false;
  for (int i = 0; i < out.count(); ++i) {
    float v[4] = {0, 0, 0, 0};
    const Seen& s = seen[std::size_t(i)];
    if (s.level >= 0 && windows[std::size_t(s.level)]) sample(*windows[std::size_t(s.level)], s.at, v);
    const float a = std::clamp(v[3], 0.f, 1.f);
    for (int c = 0; c < 3; ++c) out.colour(c)[i] = a > 1e-5f ? image::fastEncoded(std::clamp(v[c] / v[3], 0.f, 1.f)) : 0.f;
    out.alpha()[i] = a > 1e-5f ? a : 0.f;
    any |= a > 1e-5f;
  }
  return any;
}

}  // namespace hseam::render
