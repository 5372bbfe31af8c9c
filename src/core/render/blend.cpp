#include "core/render/blend.h"

#include <algorithm>
#include <cmath>

namespace hseam::render {
namespace {

using scene::BlendMode;

float multiply(float b, float s) {
  return b * s;
}
float screen(float b, float s) {
  return b + s - b * s;
}
float hardLight(float b, float s) {
  return s <= 0.5f ? multiply(b, 2 * s) : screen(b, 2 * s - 1);
}
float overlay(float b, float s) {
  return hardLight(s, b);
}
float softLight(float b, float s) {
  if (s <= 0.5f) return b - (1 - 2 * s) * b * (1 - b);
  const float d = b <= 0.25f ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
  return b + (2 * s - 1) * (d - b);
}

template <float (*f)(float, float)>
void separable(const Planes& b, const Planes& s, Planes& out) {
  for (int c = 0; c < 3; ++c) {
    const float *pb = b.colour(c), *ps = s.colour(c);
    float* po = out.colour(c);
    for (int i = 0, n = b.count(); i < n; ++i) po[i] = f(pb[i], ps[i]);
  }
}

// Section 10.2, with Lum's weights; ClipColor keeps the luma.
struct Rgb {
  float r, g, b;
};
float lum(const Rgb& c) {
  return 0.3f * c.r + 0.59f * c.g + 0.11f * c.b;
}
Rgb clipColor(Rgb c) {
  const float l = lum(c), n = std::min({c.r, c.g, c.b}), x = std::max({c.r, c.g, c.b});
  if (x <= n)
    return {std::clamp(l, 0.f, 1.f), std::clamp(l, 0.f, 1.f), std::clamp(l, 0.f, 1.f)};  // grey: rounding alone can leave 0..1
  if (n < 0) {
    const float k = l / (l - n);
    c = {l + (c.r - l) * k, l + (c.g - l) * k, l + (c.b - l) * k};
  }
  if (x > 1) {
    const float k = (1 - l) / (x - l);
    c = {l + (c.r - l) * k, l + (c.g - l) * k, l + (c.b - l) * k};
  }
  return c;
}
Rgb setLum(const Rgb& c, float l) {
  const float d = l - lum(c);
  return clipColor({c.r + d, c.g + d, c.b + d});
}
Rgb color(const Rgb& b, const Rgb& s) {
  return setLum(s, lum(b));
}
Rgb luminosity(const Rgb& b, const Rgb& s) {
  return setLum(b, lum(s));
}

template <Rgb (*f)(const Rgb&, const Rgb&)>
void whole(const Planes& b, const Planes& s, Planes& out) {
  for (int i = 0, n = b.count(); i < n; ++i) {
    const Rgb o = f({b.colour(0)[i], b.colour(1)[i], b.colour(2)[i]}, {s.colour(0)[i], s.colour(1)[i], s.colour(2)[i]});
    out.colour(0)[i] = o.r;
    out.colour(1)[i] = o.g;
    out.colour(2)[i] = o.b;
  }
}

void normal(const Planes&, const Planes& s, Planes& out) {
  if (&s == &out) return;
  for (int c = 0; c < 3; ++c) std::copy_n(s.colour(c), s.count(), out.colour(c));
}

// In the order of scene::BlendMode: a new mode is its function and its line here.
using Blend = void (*)(const Planes&, const Planes&, Planes&);
constexpr Blend kBlends[scene::kBlendModeCount] = {
    normal, separable<multiply>, separable<screen>, separable<overlay>, separable<softLight>, whole<color>, whole<luminosity>,
};

}  // namespace

void blendPlanes(BlendMode mode, const Planes& backdrop, const Planes& source, Planes& out) {
  kBlends[std::size_t(mode)](backdrop, source, out);
}

}  // namespace hseam::render
