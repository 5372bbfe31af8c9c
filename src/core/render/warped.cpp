#include "core/render/warped.h"

#include <algorithm>
#include <cmath>

#include "core/image/raster.h"
#include "core/render/effects/light.h"
#include "core/render/sample.h"

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

// `count` places (px of the window's own, middles of px at whole numbers) of a window of stride · height pixels of four floats,
// each with two px of the window about it at the least.
void sampleCubic(const float* window, int stride, const float* x, const float* y, int count, float* out) {
  const hn::CappedTag<float, 4> d;
  for (int k = 0; k < count; ++k, out += 4) {
    const int ix = int(x[k]), iy = int(y[k]);
    float wx[4], wy[4];
    catmullRom(x[k] - float(ix), wx);
    catmullRom(y[k] - float(iy), wy);
    const auto w0 = hn::Set(d, wx[0]), w1 = hn::Set(d, wx[1]), w2 = hn::Set(d, wx[2]), w3 = hn::Set(d, wx[3]);
    const auto across = [&](const float* row, float weight) {
      const auto left = hn::Add(hn::Mul(w0, hn::LoadU(d, row)), hn::Mul(w1, hn::LoadU(d, row + 4)));
      const auto right = hn::Add(hn::Mul(w2, hn::LoadU(d, row + 8)), hn::Mul(w3, hn::LoadU(d, row + 12)));
      return hn::Mul(hn::Set(d, weight), hn::Add(left, right));
    };
    for (int c = 0; c < 4; c += int(hn::Lanes(d))) {  // once, but where vectors are of one float
      const float* from = window + 4 * ((iy - 1) * stride + ix - 1) + c;
      const auto above = hn::Add(across(from, wy[0]), across(from + 4 * stride, wy[1]));
      const auto below = hn::Add(across(from + 8 * stride, wy[2]), across(from + 12 * stride, wy[3]));
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
HWY_EXPORT(sampleCubic);

using base::Rect;

constexpr float kOutside = 4;  // px of the picture: what lies farther out shows nothing

// Where the px of an area lie in the picture, and from which level each is read.
struct Places {
  std::vector<float> x, y;  // px of the picture; NaN in x: nothing
  std::vector<std::uint8_t> level;
};

Places placesOf(const WarpedPicture& what, base::Size size, int levels, const base::Affine& toBent, const Rect& area) {
  const auto count = std::size_t(area.width) * std::size_t(area.height), wide = std::size_t(area.width) + 1;
  Places places{std::vector<float>(count), std::vector<float>(count), std::vector<std::uint8_t>(count)};
  std::vector<float> x(2 * wide), y(2 * wide);
  const auto rowAt = [&](int k) {
    const std::size_t half = std::size_t(k % 2) * wide;
    what.way->row(toBent, area.x, area.y + k, area.width + 1, x.data() + half, y.data() + half);
  };
  const float right = float(size.width) + kOutside, bottom = float(size.height) + kOutside;
  rowAt(0);
  for (int j = 0; j < area.height; ++j) {
    rowAt(j + 1);
    const std::size_t here = std::size_t(j % 2) * wide, next = std::size_t((j + 1) % 2) * wide, to = std::size_t(j) * (wide - 1);
    for (std::size_t i = 0; i + 1 < wide; ++i) {
      const float px = x[here + i], py = y[here + i];
      // How far apart neighbours of the output lie in the picture; those that are nowhere do not count.
      const auto square = [&](std::size_t k) { return (x[k] - px) * (x[k] - px) + (y[k] - py) * (y[k] - py); };
      const float reduction = std::max(std::max(1.f, square(here + i + 1)), square(next + i));
      const bool inside = px >= -kOutside && py >= -kOutside && px <= right && py <= bottom;
      places.x[to + i] = inside ? px : NAN;
      places.y[to + i] = py;
      // At most 1.4 px of a level for each px of the output.
      int level = 0;
      for (float most = 1.4f * 1.4f; reduction > most && level < levels - 1; most *= 4) ++level;
      places.level[to + i] = std::uint8_t(level);
    }
  }
  return places;
}

class Sampler {
 public:
  Sampler(const WarpedPicture& what, const Rect& area, const Places& places)
      : what_(what), area_(area), places_(places) {}

  // The columns from … end − 1 of the area, as light. A bend that turns makes a wide window of few px: then by halves.
  base::Result<bool> sample(int from, int end, float* out) {
    bool any = false;
    constexpr int kNarrow = 32;
    std::array<Reach, 32> reach{};
    double read = 0;
    for (int y = 0; y < area_.height; ++y) {
      for (int x = from; x < end; ++x) include(std::size_t(y) * std::size_t(area_.width) + std::size_t(x), reach);
    }
    for (std::size_t n = 0; n < reach.size(); ++n) {
      if (reach[n].count > 0) {
        const Rect r = windowAt(int(n), reach[n]);
        read += double(r.width) * r.height;
      }
    }
    if (read > 4.0 * (end - from) * area_.height && end - from > kNarrow) {
      const int middle = (from + end) / 2;
      HSEAM_TRY(const bool left, sample(from, middle, out));
      HSEAM_TRY(const bool right, sample(middle, end, out));
      return left || right;
    }
    for (std::size_t n = 0; n < reach.size(); ++n) {
      if (reach[n].count == 0) continue;
      HSEAM_TRY(const bool shows, sampleLevel(int(n), windowAt(int(n), reach[n]), from, end, out));
      any |= shows;
    }
    return any;
  }

 private:
  struct Reach {
    float left = 1e30f, top = 1e30f, right = -1e30f, bottom = -1e30f;  // px of the picture
    int count = 0;
  };
  void include(std::size_t i, std::array<Reach, 32>& all) const {
    const float x = places_.x[i], y = places_.y[i];
    if (std::isnan(x)) return;
    Reach& r = all[places_.level[i]];
    r.left = std::min(r.left, x), r.right = std::max(r.right, x);
    r.top = std::min(r.top, y), r.bottom = std::max(r.bottom, y);
    ++r.count;
  }
  // All that is read of a level: never cut to the picture, so that no place needs to ask.
  static Rect windowAt(int level, const Reach& far) {
    const float k = 1.f / float(1 << level);
    const int left = int(std::floor(far.left * k)) - 3, top = int(std::floor(far.top * k)) - 3;
    return {left, top, int(std::floor(far.right * k)) + 4 - left, int(std::floor(far.bottom * k)) + 4 - top};
  }

  base::Result<bool> sampleLevel(int level, const Rect& r, int from, int end, float* out) {
    Planes light(r.width * r.height);
    HSEAM_TRY(const bool any, samplePicture({what_.colours, what_.mask, base::Affine::scaling(1.0 / (1 << level))}, r, light));
    if (!any) return false;
    if (what_.colours) {
      effects::toLight(light);
    } else {
      for (int c = 0; c < 3; ++c) std::fill_n(light.colour(c), light.count(), 0.f);
    }
    std::vector<float> pixels(std::size_t(light.count()) * 4);
    HWY_DYNAMIC_DISPATCH(interleave)(light, light.count(), pixels.data());
    const float k = 1.f / float(1 << level);
    // Runs of places that are read from this level.
    std::vector<float> x(std::size_t(end - from)), y(x.size());
    for (int row = 0; row < area_.height; ++row) {
      const std::size_t first = std::size_t(row) * std::size_t(area_.width);
      for (int at = from; at < end;) {
        int n = 0;
        for (; at + n < end; ++n) {
          const std::size_t i = first + std::size_t(at + n);
          if (places_.level[i] != level || std::isnan(places_.x[i])) break;
          x[std::size_t(n)] = places_.x[i] * k - 0.5f - float(r.x);
          y[std::size_t(n)] = places_.y[i] * k - 0.5f - float(r.y);
        }
        if (n > 0)
          HWY_DYNAMIC_DISPATCH(sampleCubic)(pixels.data(), r.width, x.data(), y.data(), n, out + 4 * (first + std::size_t(at)));
        at += std::max(n, 1);
      }
    }
    return true;
  }

  const WarpedPicture& what_;
  const Rect& area_;
  const Places& places_;
};

}  // namespace

base::Result<bool> sampleWarped(const WarpedPicture& what, const Rect& area, Planes& out) {
  const auto toBent = what.toOutput.inverse();
  if (!toBent) return false;
  const image::TiledImage& picture = what.colours ? *what.colours : *what.mask;
  const Places places = placesOf(what, picture.size(), picture.levelCount(), *toBent, area);
  std::vector<float> light(std::size_t(out.count()) * 4, 0.f);
  HSEAM_TRY(const bool any, Sampler(what, area, places).sample(0, area.width, light.data()));
  if (!any) return false;
  for (int i = 0; i < out.count(); ++i) {
    for (int c = 0; c < 4; ++c) out.colour(c)[i] = light[std::size_t(4 * i + c)];
  }
  effects::fromLight(out);
  bool shows = false;
  for (int i = 0; i < out.count(); ++i) {
    float& a = out.alpha()[i];
    a = a > 1e-5f ? a : 0.f;
    shows |= a > 0;
  }
  return shows;
}

}  // namespace hseam::render
#endif
