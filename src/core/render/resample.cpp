#include "core/render/resample.h"

#include <algorithm>
#include <cmath>
#include <vector>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/resample.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

#include "core/render/vector_colour-inl.h"

// The kernels see the source as rows of linear premultiplied RGBA, four floats a pixel; a pixel is one vector of four.

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

using Four = hn::CappedTag<float, 4>;
using FourV = hn::Vec<Four>;

// sum[i] = weight · row[i], or added to it.
void addRow(const float* row, float weight, int count, bool first, float* sum) {
  const Float d;
  const auto w = hn::Set(d, weight);
  const int lanes = int(hn::Lanes(d));
  int i = 0;
  for (; i + lanes <= count; i += lanes) {
    const auto term = hn::Mul(w, hn::LoadU(d, row + i));
    hn::StoreU(first ? term : hn::Add(hn::LoadU(d, sum + i), term), d, sum + i);
  }
  for (; i < count; ++i) sum[i] = first ? weight * row[i] : sum[i] + weight * row[i];
}

// One pixel from `taps` neighbours of a row.
HWY_INLINE void gathered(const float* from, const float* weights, int taps, FourV& sum) {
  const Four d;
  for (int i = 0; i < taps; ++i) sum = hn::Add(sum, hn::Mul(hn::Set(d, weights[i]), hn::LoadU(d, from + i * 4)));
}

#if HWY_TARGET == HWY_SCALAR
void acrossRow(const float* row, const int* first, const float* weights, int taps, int count, float* out) {
  for (int x = 0; x < count; ++x) {
    for (int c = 0; c < 4; ++c) {
      float sum = 0;
      for (int i = 0; i < taps; ++i) sum += weights[x * taps + i] * row[(first[x] + i) * 4 + c];
      out[x * 4 + c] = sum;
    }
  }
}
void block(const float* from, long stride, const float* across, const float* down, int taps, float* out) {
  for (int c = 0; c < 4; ++c) {
    float sum = 0;
    for (int j = 0; j < taps; ++j) {
      float row = 0;
      for (int i = 0; i < taps; ++i) row += across[i] * from[j * stride + i * 4 + c];
      sum += down[j] * row;
    }
    out[c] = sum;
  }
}
#else
void acrossRow(const float* row, const int* first, const float* weights, int taps, int count, float* out) {
  const Four d;
  for (int x = 0; x < count; ++x) {
    FourV sum = hn::Zero(d);
    gathered(row + first[x] * 4, weights + x * taps, taps, sum);
    hn::StoreU(sum, d, out + x * 4);
  }
}
void block(const float* from, long stride, const float* across, const float* down, int taps, float* out) {
  const Four d;
  FourV sum = hn::Zero(d);
  for (int j = 0; j < taps; ++j) {
    FourV row = hn::Zero(d);
    gathered(from + j * stride, across, taps, row);
    sum = hn::Add(sum, hn::Mul(hn::Set(d, down[j]), row));
  }
  hn::StoreU(sum, d, out);
}
#endif

// Linear premultiplied planes to encoded straight ones; alpha within 0..1, exactly 1 where it is so but for rounding.
void finish(Planes& out) {
  const Float d;
  const auto zero = hn::Zero(d), one = hn::Set(d, 1.f);
  for (int i = 0, n = out.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto sum = hn::Load(d, out.alpha() + i);
    const auto shows = hn::Gt(sum, hn::Set(d, 1e-6f));
    const auto a = hn::IfThenElse(hn::Gt(sum, hn::Set(d, 0.99999f)), one, hn::IfThenElse(shows, sum, zero));
    hn::Store(a, d, out.alpha() + i);
    if (hn::AllFalse(d, shows)) continue;
    const auto inverse = hn::IfThenElse(shows, hn::Div(one, hn::IfThenElse(shows, a, one)), zero);
    for (int c = 0; c < 3; ++c) {
      float* p = out.colour(c) + i;
      hn::Store(encoded(d, hn::Mul(hn::Load(d, p), inverse)), d, p);
    }
  }
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {
namespace {

HWY_EXPORT(addRow);
HWY_EXPORT(acrossRow);
HWY_EXPORT(block);
HWY_EXPORT(finish);

using base::Affine;
using base::Rect;
using image::Raster;
using image::TiledImage;

double catmullRom(double x) {
  x = std::abs(x);
  if (x < 1) return (1.5 * x - 2.5) * x * x + 1;
  return x < 2 ? ((-0.5 * x + 2.5) * x - 4) * x + 2 : 0;
}

// The kernel along one axis, widened for reduction; every output coordinate gets the same number of taps.
class Kernel {
 public:
  explicit Kernel(double widening) : widening_(widening), taps_(int(std::ceil(4 * widening)) + 1) {}
  int taps() const { return taps_; }
  // centre: source px, edges at integers. Returns the first pixel; weights: taps() of them, summing to 1.
  int at(double centre, float* weights) const {
    const int first = int(std::ceil(centre - 2 * widening_ - 0.5));
    double sum = 0, w[kMost];
    for (int i = 0; i < taps_; ++i) sum += w[i] = catmullRom((first + i + 0.5 - centre) / widening_);
    for (int i = 0; i < taps_; ++i) weights[i] = float(w[i] / sum);
    return first;
  }
  static constexpr int kMost = 64;

 private:
  double widening_;
  int taps_;
};

// Weights by phase, for placements where every pixel has one of its own: the nearest of 512, at most 1/1024 px off.
class Phases {
 public:
  explicit Phases(const Kernel& kernel) : taps_(kernel.taps()) {
    table_.resize(std::size_t(kPhases) * std::size_t(taps_));
    // All phases begin at the same pixel relative to the whole part of the centre, but where the kernel starts a pixel later.
    for (int p = 0; p < kPhases; ++p)
      offset_[p] = kernel.at((p + 0.5) / kPhases, table_.data() + std::size_t(p) * std::size_t(taps_));
  }
  int at(double centre, const float*& weights) const {
    const double whole = std::floor(centre);
    const int p = std::min(kPhases - 1, int((centre - whole) * kPhases));
    weights = table_.data() + std::size_t(p) * std::size_t(taps_);
    return int(whole) + offset_[p];
  }

 private:
  static constexpr int kPhases = 512;
  int taps_;
  std::vector<float> table_;
  int offset_[kPhases];
};

// A window of the source level as linear premultiplied RGBA, edge pixels repeated outside.
base::Result<Raster<float>> windowOf(const Sampled& what, int level, const Rect& area) {
  Raster<float> out(area.width, area.height, 4, 1.f);
  float* const begin = out.row(0);
  const std::size_t count = out.pixels();
  const auto take = [&](const auto& colours, const auto& toLinear, float alphaScale) {
    const int ch = colours.channels();
    const auto* in = colours.row(0);
    float* o = begin;
    for (std::size_t i = 0; i < count; ++i, in += ch, o += 4) {
      for (int c = 0; c < 3; ++c) o[c] = toLinear(in[c]);
      if (ch == 4) o[3] = float(in[3]) * alphaScale;
    }
  };
  bool seeThrough = what.mask != nullptr;
  if (what.colours) {
    seeThrough |= image::hasAlpha(what.colours->format());
    if (image::isWide(what.colours->format())) {
      HSEAM_TRY(const Raster<float> colours, image::readFloat(*what.colours, level, area));
      take(
          colours, [&](float v) { return image::fastLinear(v); }, 1.f);
    } else {
      const auto& bytes = image::linearOf8();
      HSEAM_TRY(const Raster<std::uint8_t> colours, image::read8(*what.colours, level, area));
      take(
          colours, [&](std::uint8_t v) { return bytes[v]; }, 1 / 255.f);
    }
  }
  if (what.mask) {
    HSEAM_TRY(const Raster<float> mask, image::readFloat(*what.mask, level, area));
    for (std::size_t i = 0; i < count; ++i) begin[i * 4 + 3] *= mask.samples()[i];
  }
  for (std::size_t i = 0; seeThrough && i < count; ++i) {
    for (std::size_t c = 0; c < 3; ++c) begin[i * 4 + c] *= begin[i * 4 + 3];
  }
  return out;
}

void intoPlanes(const float* pixels, int count, long at, Planes& out) {
  float* to[4] = {out.colour(0) + at, out.colour(1) + at, out.colour(2) + at, out.colour(3) + at};
  for (int x = 0; x < count; ++x) {
    for (int c = 0; c < 4; ++c) to[c][x] = pixels[x * 4 + c];
  }
}

// How much of the output pixel with this centre lies inside the picture, from the distances to its four sides.
struct Border {
  Affine toSource;
  base::Size size;
  double sx, sy;  // source px per output px across the vertical and the horizontal sides
  static double inside(double distance) { return std::clamp(distance + 0.5, 0.0, 1.0); }
  double across(double px) const { return inside(px / sx) * inside((size.width - px) / sx); }
  double down(double py) const { return inside(py / sy) * inside((size.height - py) / sy); }
};

struct Grid {
  Affine toLevel;  // output px → px of the source level
  Kernel x, y;
  Border border;
};

// Axis-parallel: along y for every output row, then along x.
void straight(const Grid& g, const Rect& area, const Rect& window, const Raster<float>& source, Planes& out) {
  const auto add = &HWY_DYNAMIC_DISPATCH(addRow);
  const auto across = &HWY_DYNAMIC_DISPATCH(acrossRow);
  const std::size_t width = std::size_t(area.width);
  std::vector<float> weights(width * std::size_t(g.x.taps())), squeezed(std::size_t(window.width) * 4), line(width * 4),
      side(width);
  std::vector<int> first(width);
  for (std::size_t x = 0; x < width; ++x) {
    const double at = area.x + double(x) + 0.5;
    first[x] = g.x.at(g.toLevel.a * at + g.toLevel.e, weights.data() + x * std::size_t(g.x.taps())) - window.x;
    side[x] = float(g.border.across(g.border.toSource.a * at + g.border.toSource.e));
  }
  for (int y = 0; y < area.height; ++y) {
    const double at = area.y + y + 0.5;
    float down[Kernel::kMost];
    const int top = g.y.at(g.toLevel.d * at + g.toLevel.f, down) - window.y;
    for (int j = 0; j < g.y.taps(); ++j) add(source.row(top + j), down[j], window.width * 4, j == 0, squeezed.data());
    across(squeezed.data(), first.data(), weights.data(), g.x.taps(), area.width, line.data());
    intoPlanes(line.data(), area.width, long(y) * area.width, out);
  }
  HWY_DYNAMIC_DISPATCH(finish)(out);
  for (int y = 0; y < area.height; ++y) {
    const auto by = float(g.border.down(g.border.toSource.d * (area.y + y + 0.5) + g.border.toSource.f));
    float* alpha = out.alpha() + long(y) * area.width;
    for (std::size_t x = 0; x < width; ++x) alpha[x] *= side[x] * by;
  }
}

void turned(const Grid& g, const Rect& area, const Rect& window, const Raster<float>& source, Planes& out) {
  const auto one = &HWY_DYNAMIC_DISPATCH(block);
  const Kernel& kernel = g.x;  // as wide along both
  const Phases phases(kernel);
  const long stride = long(window.width) * 4;
  std::vector<float> line(std::size_t(area.width) * 4), border(std::size_t(out.count()));
  for (int y = 0; y < area.height; ++y) {
    std::fill(line.begin(), line.end(), 0.f);
    for (int x = 0; x < area.width; ++x) {
      const base::Point centre{area.x + x + 0.5, area.y + y + 0.5};
      const base::Point s = g.border.toSource.map(centre);
      const auto inside = float(g.border.across(s.x) * g.border.down(s.y));
      border[std::size_t(y) * std::size_t(area.width) + std::size_t(x)] = inside;
      if (inside <= 0) continue;
      const base::Point p = g.toLevel.map(centre);
      const float *across = nullptr, *down = nullptr;
      const int left = phases.at(p.x, across) - window.x, top = phases.at(p.y, down) - window.y;
      one(source.at(left, top), stride, across, down, kernel.taps(), line.data() + std::size_t(x) * 4);
    }
    intoPlanes(line.data(), area.width, long(y) * area.width, out);
  }
  HWY_DYNAMIC_DISPATCH(finish)(out);
  for (int i = 0; i < out.count(); ++i) out.alpha()[i] *= border[std::size_t(i)];
}

}  // namespace

base::Result<bool> resampled(const Sampled& what, const Affine& toSource, int level, const Rect& area, Planes& out) {
  const TiledImage& any = what.colours ? *what.colours : *what.mask;
  const double down = 1.0 / (1 << level);
  const double perX = std::hypot(toSource.a, toSource.b), perY = std::hypot(toSource.c, toSource.d);
  // A reduction beyond the coarsest level would need more taps than there are: 15 source px a side are plenty there.
  const double widenX = std::clamp(perX * down, 1.0, 15.0), widenY = std::clamp(perY * down, 1.0, 15.0);
  const bool isStraight = toSource.b == 0 && toSource.c == 0;
  const double widest = std::max(widenX, widenY);
  const Grid g{Affine::scaling(down).after(toSource),
               Kernel(isStraight ? widenX : widest),
               Kernel(isStraight ? widenY : widest),
               {toSource, any.size(), perX, perY}};
  const Rect wanted = base::boundsOf(g.toLevel, area).grown(int(std::ceil(2 * widest)) + 3);
  if (wanted.grown(2).intersected(Rect::of(any.level(level).size)).empty()) return false;
  HSEAM_TRY(const Raster<float> window, windowOf(what, level, wanted));
  (isStraight ? straight : turned)(g, area, wanted, window, out);
  return true;
}

}  // namespace hseam::render
#endif
