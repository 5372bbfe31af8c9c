#include "core/render/warped.h"

#include <algorithm>
#include <cmath>

#include "core/image/raster.h"
#include "core/render/effects/light.h"
#include "core/render/sample.h"

#ifndef HSEAM_RENDER_WARPED_WINDOW
#define HSEAM_RENDER_WARPED_WINDOW
namespace hseam::render {

struct WindowOfLevel {
  const float* pixels;  // four floats each
  int stride, level;
  float scale, left, top;  // px of the picture times scale, less these: px of the window, whose middles lie at whole numbers
};

}  // namespace hseam::render
#endif

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/warped.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

// Four planes as pixels of four floats, which one load takes.
void interleave(const Planes& from, int count, float* to) {
  const hn::ScalableTag<float> d;
  const int lanes = int(hn::Lanes(d));
  int i = 0;
  for (; i + lanes <= count; i += lanes) {
    hn::StoreInterleaved4(hn::Load(d, from.colour(0) + i), hn::Load(d, from.colour(1) + i), hn::Load(d, from.colour(2) + i),
                          hn::Load(d, from.colour(3) + i), d, to + 4 * i);
  }
  for (; i < count; ++i) {
    for (int c = 0; c < 4; ++c) to[4 * i + c] = from.colour(c)[i];
  }
}

// Keys 1981, a = −1/2.
HWY_INLINE void catmullRom(float t, float* w) {
  const float t2 = t * t, t3 = t2 * t;
  w[0] = -0.5f * t3 + t2 - 0.5f * t;
  w[1] = 1.5f * t3 - 2.5f * t2 + 1;
  w[2] = -1.5f * t3 + 2 * t2 + 0.5f * t;
  w[3] = 0.5f * t3 - 0.5f * t2;
}

// Back to planes; a coverage that is next to nothing is nothing. True: something shows.
bool separate(const float* from, int count, Planes& to) {
  const hn::ScalableTag<float> d;
  const int lanes = int(hn::Lanes(d));
  bool any = false;
  for (int i = 0; i < count; i += lanes) {
    hn::Vec<decltype(d)> r, g, b, a;
    hn::LoadInterleaved4(d, from + 4 * i, r, g, b, a);
    const auto shows = hn::Gt(a, hn::Set(d, 1e-5f));
    any |= !hn::AllFalse(d, shows);
    hn::Store(r, d, to.colour(0) + i);
    hn::Store(g, d, to.colour(1) + i);
    hn::Store(b, d, to.colour(2) + i);
    hn::Store(hn::IfThenElseZero(shows, a), d, to.alpha() + i);
  }
  return any;
}

// A row of places and the row below it, `count` + 1 of each. To x: NaN where the place is not within `inside` (left, top, right,
// bottom). To level: how many of the limits lie below the square of how far apart neighbours are; those that are nowhere do not
// count. Writes up to a vector more.
void placeRow(const float* x, const float* y, const float* belowX, const float* belowY, int count, const float* inside,
              const float* limits, int limitCount, float* toX, float* toY, std::int32_t* level) {
  const hn::ScalableTag<float> d;
  const hn::RebindToSigned<decltype(d)> di;
  for (int i = 0; i < count; i += int(hn::Lanes(d))) {
    const auto px = hn::LoadU(d, x + i), py = hn::LoadU(d, y + i);
    const auto square = [&](const float* qx, const float* qy) {
      const auto dx = hn::Sub(hn::LoadU(d, qx + i), px), dy = hn::Sub(hn::LoadU(d, qy + i), py);
      const auto sum = hn::Add(hn::Mul(dx, dx), hn::Mul(dy, dy));
      return hn::IfThenElseZero(hn::Eq(sum, sum), sum);
    };
    const auto apart = hn::Max(square(x + 1, y + 1), square(belowX, belowY));
    auto n = hn::Zero(di);
    for (int k = 0; k < limitCount; ++k)
      n = hn::Add(n, hn::IfThenElseZero(hn::RebindMask(di, hn::Gt(apart, hn::Set(d, limits[k]))), hn::Set(di, 1)));
    const auto within = hn::And(hn::And(hn::Ge(px, hn::Set(d, inside[0])), hn::Ge(py, hn::Set(d, inside[1]))),
                                hn::And(hn::Le(px, hn::Set(d, inside[2])), hn::Le(py, hn::Set(d, inside[3]))));
    hn::StoreU(hn::IfThenElse(within, px, hn::Set(d, NAN)), d, toX + i);
    hn::StoreU(py, d, toY + i);
    hn::StoreU(n, di, level + i);
  }
}

// The box of those places that are read from a level: left, top, right, bottom, for as long as there are any; how many they are.
int widen(const float* x, const float* y, const std::int32_t* level, int wanted, int count, float* box) {
  const hn::ScalableTag<float> d;
  const hn::RebindToSigned<decltype(d)> di;
  const int lanes = int(hn::Lanes(d));
  auto left = hn::Set(d, box[0]), top = hn::Set(d, box[1]), right = hn::Set(d, box[2]), bottom = hn::Set(d, box[3]);
  int n = 0, i = 0;
  for (; i + lanes <= count; i += lanes) {
    const auto px = hn::LoadU(d, x + i), py = hn::LoadU(d, y + i);
    const auto here = hn::And(hn::Eq(px, px), hn::RebindMask(d, hn::Eq(hn::LoadU(di, level + i), hn::Set(di, wanted))));
    n += int(hn::CountTrue(d, here));
    left = hn::IfThenElse(here, hn::Min(left, px), left), right = hn::IfThenElse(here, hn::Max(right, px), right);
    top = hn::IfThenElse(here, hn::Min(top, py), top), bottom = hn::IfThenElse(here, hn::Max(bottom, py), bottom);
  }
  box[0] = hn::GetLane(hn::MinOfLanes(d, left)), box[1] = hn::GetLane(hn::MinOfLanes(d, top));
  box[2] = hn::GetLane(hn::MaxOfLanes(d, right)), box[3] = hn::GetLane(hn::MaxOfLanes(d, bottom));
  for (; i < count; ++i) {
    if (level[i] != wanted || std::isnan(x[i])) continue;
    ++n;
    box[0] = std::min(box[0], x[i]), box[1] = std::min(box[1], y[i]);
    box[2] = std::max(box[2], x[i]), box[3] = std::max(box[3], y[i]);
  }
  return n;
}

// Those of `count` places that are read from this level; each has two px of the window about it at the least.
void sampleCubic(const WindowOfLevel& w, const float* x, const float* y, const std::int32_t* level, int count, float* out) {
  const hn::CappedTag<float, 4> d;
  for (int k = 0; k < count; ++k, out += 4) {
    if (level[k] != w.level || std::isnan(x[k])) continue;
    const float px = x[k] * w.scale - w.left, py = y[k] * w.scale - w.top;
    const int ix = int(px), iy = int(py);
    float wx[4], wy[4];
    catmullRom(px - float(ix), wx);
    catmullRom(py - float(iy), wy);
    const auto w0 = hn::Set(d, wx[0]), w1 = hn::Set(d, wx[1]), w2 = hn::Set(d, wx[2]), w3 = hn::Set(d, wx[3]);
    const auto across = [&](const float* row, float weight) {
      const auto left = hn::Add(hn::Mul(w0, hn::LoadU(d, row)), hn::Mul(w1, hn::LoadU(d, row + 4)));
      const auto right = hn::Add(hn::Mul(w2, hn::LoadU(d, row + 8)), hn::Mul(w3, hn::LoadU(d, row + 12)));
      return hn::Mul(hn::Set(d, weight), hn::Add(left, right));
    };
    for (int c = 0; c < 4; c += int(hn::Lanes(d))) {  // once, but where vectors are of one float
      const float* from = w.pixels + 4 * ((iy - 1) * w.stride + ix - 1) + c;
      const auto above = hn::Add(across(from, wy[0]), across(from + 4 * w.stride, wy[1]));
      const auto below = hn::Add(across(from + 8 * w.stride, wy[2]), across(from + 12 * w.stride, wy[3]));
      hn::StoreU(hn::Add(above, below), d, out + c);
    }
  }
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {
namespace {

HWY_EXPORT(interleave);
HWY_EXPORT(separate);
HWY_EXPORT(placeRow);
HWY_EXPORT(widen);
HWY_EXPORT(sampleCubic);

using base::Rect;

constexpr float kOutside = 4;       // px of the picture: what lies farther out shows nothing
constexpr std::size_t kSpare = 16;  // floats that vectors may go over an end

// Where the px of an area lie in the picture, and from which level each is read.
struct Places {
  std::vector<float> x, y;  // px of the picture; NaN in x: nothing
  std::vector<std::int32_t> level;
};

Places placesOf(const WarpedPicture& what, base::Size size, int levels, const base::Affine& toBent, const Rect& area) {
  const auto count = std::size_t(area.width) * std::size_t(area.height) + kSpare, wide = std::size_t(area.width) + 1 + kSpare;
  Places places{std::vector<float>(count), std::vector<float>(count), std::vector<std::int32_t>(count)};
  std::vector<float> x(2 * wide, NAN), y(2 * wide, 0.f), limits;
  // At most 1.4 px of a level for each px of the output.
  for (float most = 1.4f * 1.4f; int(limits.size()) < levels - 1; most *= 4) limits.push_back(most);
  const float inside[4] = {-kOutside, -kOutside, float(size.width) + kOutside, float(size.height) + kOutside};
  const auto rowAt = [&](int k) {
    const std::size_t half = std::size_t(k % 2) * wide;
    what.way->row(toBent, area.x, area.y + k, area.width + 1, x.data() + half, y.data() + half);
  };
  rowAt(0);
  for (int j = 0; j < area.height; ++j) {
    rowAt(j + 1);
    const std::size_t here = std::size_t(j % 2) * wide, next = std::size_t((j + 1) % 2) * wide,
                      to = std::size_t(j) * std::size_t(area.width);
    HWY_DYNAMIC_DISPATCH(placeRow)
    (x.data() + here, y.data() + here, x.data() + next, y.data() + next, area.width, inside, limits.data(), int(limits.size()),
     places.x.data() + to, places.y.data() + to, places.level.data() + to);
  }
  return places;
}

class Sampler {
 public:
  Sampler(const WarpedPicture& what, const Rect& area, const Places& places) : what_(what), area_(area), places_(places) {
    levels_ = (what.colours ? what.colours : what.mask)->levelCount();
  }

  // The columns from … end − 1 of the area, as light. A bend that turns makes a wide window of few px: then by halves.
  base::Result<bool> sample(int from, int end, float* out) {
    constexpr int kNarrow = 32;
    std::vector<Rect> windows;
    double read = 0;
    for (int n = 0, left = placesWithin(from, end); n < levels_ && left > 0; ++n) {
      windows.push_back(windowAt(n, from, end, left));
      read += double(windows.back().width) * windows.back().height;
    }
    if (read > 4.0 * (end - from) * area_.height && end - from > kNarrow) {
      const int middle = (from + end) / 2;
      HSEAM_TRY(const bool left, sample(from, middle, out));
      HSEAM_TRY(const bool right, sample(middle, end, out));
      return left || right;
    }
    bool any = false;
    for (std::size_t n = 0; n < windows.size(); ++n) {
      if (windows[n].empty()) continue;
      HSEAM_TRY(const bool shows, sampleLevel(int(n), windows[n], from, end, out));
      any |= shows;
    }
    return any;
  }

 private:
  std::size_t at(int row, int column) const { return std::size_t(row) * std::size_t(area_.width) + std::size_t(column); }

  int placesWithin(int from, int end) const {
    int n = 0;
    for (int y = 0; y < area_.height; ++y) {
      for (int x = from; x < end; ++x) n += !std::isnan(places_.x[at(y, x)]);
    }
    return n;
  }

  // All that is read of a level: never cut to the picture, so that no place needs to ask. left: places not yet met, less these.
  Rect windowAt(int level, int from, int end, int& left) const {
    float box[4] = {1e30f, 1e30f, -1e30f, -1e30f};
    int n = 0;
    for (int y = 0; y < area_.height; ++y) {
      const std::size_t i = at(y, from);
      n += HWY_DYNAMIC_DISPATCH(widen)(&places_.x[i], &places_.y[i], &places_.level[i], level, end - from, box);
    }
    if (n == 0) return {};
    left -= n;
    const float k = 1.f / float(1 << level);
    const int x = int(std::floor(box[0] * k)) - 3, y = int(std::floor(box[1] * k)) - 3;
    return {x, y, int(std::floor(box[2] * k)) + 4 - x, int(std::floor(box[3] * k)) + 4 - y};
  }

  base::Result<bool> sampleLevel(int level, const Rect& window, int from, int end, float* out) {
    Planes light(window.width * window.height);
    HSEAM_TRY(const bool any,
              samplePicture({what_.colours, what_.mask, base::Affine::scaling(1.0 / (1 << level))}, window, light));
    if (!any) return false;
    if (what_.colours) {
      effects::toLight(light);
    } else {
      for (int c = 0; c < 3; ++c) std::fill_n(light.colour(c), light.count(), 0.f);
    }
    pixels_.resize(std::size_t(light.count()) * 4);
    HWY_DYNAMIC_DISPATCH(interleave)(light, light.count(), pixels_.data());
    const WindowOfLevel w{pixels_.data(),          window.width,           level,
                          1.f / float(1 << level), float(window.x) + 0.5f, float(window.y) + 0.5f};
    for (int row = 0; row < area_.height; ++row) {
      const std::size_t i = at(row, from);
      HWY_DYNAMIC_DISPATCH(sampleCubic)(w, &places_.x[i], &places_.y[i], &places_.level[i], end - from, out + 4 * i);
    }
    return true;
  }

  const WarpedPicture& what_;
  const Rect& area_;
  const Places& places_;
  int levels_;
  std::vector<float> pixels_;
};

}  // namespace

base::Result<bool> sampleWarped(const WarpedPicture& what, const Rect& area, Planes& out) {
  const auto toBent = what.toOutput.inverse();
  if (!toBent) return false;
  const image::TiledImage& picture = what.colours ? *what.colours : *what.mask;
  const Places places = placesOf(what, picture.size(), picture.levelCount(), *toBent, area);
  std::vector<float> light((std::size_t(out.count()) + kSpare) * 4, 0.f);
  HSEAM_TRY(const bool any, Sampler(what, area, places).sample(0, area.width, light.data()));
  if (!any || !HWY_DYNAMIC_DISPATCH(separate)(light.data(), out.count(), out)) return false;
  effects::fromLight(out);
  return true;
}

}  // namespace hseam::render
#endif
