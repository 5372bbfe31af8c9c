#include "core/render/blend.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/blend.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

#include "core/render/vector_colour-inl.h"

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

// ------------------------------------------------------------------ section 10.1: each channel alone

struct Multiply {
  static FloatV of(Float, FloatV b, FloatV s) { return hn::Mul(b, s); }
};
struct Screen {
  static FloatV of(Float, FloatV b, FloatV s) { return hn::Sub(hn::Add(b, s), hn::Mul(b, s)); }
};
struct HardLight {
  static FloatV of(Float d, FloatV b, FloatV s) {
    const auto twice = hn::Add(s, s);
    return hn::IfThenElse(hn::Le(s, hn::Set(d, 0.5f)), hn::Mul(b, twice), Screen::of(d, b, hn::Sub(twice, hn::Set(d, 1.f))));
  }
};
struct Overlay {
  static FloatV of(Float d, FloatV b, FloatV s) { return HardLight::of(d, s, b); }
};
struct Darken {
  static FloatV of(Float, FloatV b, FloatV s) { return hn::Min(b, s); }
};
struct Lighten {
  static FloatV of(Float, FloatV b, FloatV s) { return hn::Max(b, s); }
};
struct ColorDodge {
  static FloatV of(Float d, FloatV b, FloatV s) {
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.f);
    const auto lit = hn::IfThenElse(hn::Ge(s, one), one, hn::Min(one, hn::Div(b, hn::Sub(one, s))));
    return hn::IfThenElse(hn::Le(b, zero), zero, lit);
  }
};
struct ColorBurn {
  static FloatV of(Float d, FloatV b, FloatV s) {
    const auto zero = hn::Zero(d), one = hn::Set(d, 1.f);
    const auto burnt = hn::IfThenElse(hn::Le(s, zero), zero, hn::Sub(one, hn::Min(one, hn::Div(hn::Sub(one, b), s))));
    return hn::IfThenElse(hn::Ge(b, one), one, burnt);
  }
};
struct SoftLight {
  static FloatV of(Float d, FloatV b, FloatV s) {
    const auto one = hn::Set(d, 1.f), half = hn::Set(d, 0.5f);
    const auto twice = hn::Add(s, s);
    const auto dark = hn::Sub(b, hn::Mul(hn::Mul(hn::Sub(one, twice), b), hn::Sub(one, b)));
    const auto cubic = hn::Mul(hn::Add(hn::Mul(hn::Sub(hn::Mul(hn::Set(d, 16.f), b), hn::Set(d, 12.f)), b), hn::Set(d, 4.f)), b);
    const auto lift = hn::IfThenElse(hn::Le(b, hn::Set(d, 0.25f)), cubic, hn::Sqrt(hn::Max(b, hn::Zero(d))));
    const auto light = hn::Add(b, hn::Mul(hn::Sub(twice, one), hn::Sub(lift, b)));
    return hn::IfThenElse(hn::Le(s, half), dark, light);
  }
};
struct Difference {
  static FloatV of(Float, FloatV b, FloatV s) { return hn::AbsDiff(b, s); }
};
struct Exclusion {
  static FloatV of(Float, FloatV b, FloatV s) {
    const auto product = hn::Mul(b, s);
    return hn::Sub(hn::Add(b, s), hn::Add(product, product));
  }
};

// ------------------------------------------------------------------ on light

struct AddLight {
  static FloatV of(Float d, FloatV b, FloatV s) { return encoded(d, hn::Add(linear(d, b), linear(d, s))); }
};
struct SubtractLight {
  static FloatV of(Float d, FloatV b, FloatV s) { return encoded(d, hn::Sub(linear(d, b), linear(d, s))); }
};
struct DivideLight {
  static FloatV of(Float d, FloatV b, FloatV s) {
    const auto zero = hn::Zero(d), lb = linear(d, b), ls = linear(d, s);
    const auto dark = hn::Le(ls, zero);
    const auto share = encoded(d, hn::Div(lb, hn::IfThenElse(dark, hn::Set(d, 1.f), ls)));
    return hn::IfThenElse(dark, hn::IfThenElse(hn::Gt(lb, zero), hn::Set(d, 1.f), zero), share);
  }
};

template <class Formula>
void separable(const Planes& b, const Planes& s, Planes& out) {
  const Float d;
  for (int c = 0; c < 3; ++c) {
    const float *pb = b.colour(c), *ps = s.colour(c);
    float* po = out.colour(c);
    for (int i = 0, n = b.padded(); i < n; i += int(hn::Lanes(d)))
      hn::Store(Formula::of(d, hn::Load(d, pb + i), hn::Load(d, ps + i)), d, po + i);
  }
}

// ------------------------------------------------------------------ section 10.2: hue, saturation, luma

HWY_INLINE Rgb setLum(Float d, const Rgb& c, FloatV l) {
  const auto move = hn::Sub(l, lum(d, c));
  return clipColor(d, {hn::Add(c.r, move), hn::Add(c.g, move), hn::Add(c.b, move)});
}
HWY_INLINE FloatV sat(const Rgb& c) {
  return hn::Sub(most(c), least(c));
}
HWY_INLINE Rgb setSat(Float d, const Rgb& c, FloatV s) {
  const auto zero = hn::Zero(d), low = least(c), range = sat(c);
  const auto grey = hn::Le(range, zero);
  const auto span = hn::IfThenElse(grey, hn::Set(d, 1.f), range);
  const auto stretched = [&](FloatV v) { return hn::IfThenElse(grey, zero, hn::Div(hn::Mul(hn::Sub(v, low), s), span)); };
  return {stretched(c.r), stretched(c.g), stretched(c.b)};
}

struct Hue {
  static Rgb of(Float d, const Rgb& b, const Rgb& s) { return setLum(d, setSat(d, s, sat(b)), lum(d, b)); }
};
struct Saturation {
  static Rgb of(Float d, const Rgb& b, const Rgb& s) { return setLum(d, setSat(d, b, sat(s)), lum(d, b)); }
};
struct Color {
  static Rgb of(Float d, const Rgb& b, const Rgb& s) { return setLum(d, s, lum(d, b)); }
};
struct Luminosity {
  static Rgb of(Float d, const Rgb& b, const Rgb& s) { return setLum(d, b, lum(d, s)); }
};

template <class Formula>
void whole(const Planes& b, const Planes& s, Planes& out) {
  const Float d;
  for (int i = 0, n = b.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto at = [&](const Planes& p) {
      return Rgb{hn::Load(d, p.colour(0) + i), hn::Load(d, p.colour(1) + i), hn::Load(d, p.colour(2) + i)};
    };
    const Rgb o = Formula::of(d, at(b), at(s));
    hn::Store(o.r, d, out.colour(0) + i);
    hn::Store(o.g, d, out.colour(1) + i);
    hn::Store(o.b, d, out.colour(2) + i);
  }
}

void normal(const Planes&, const Planes& s, Planes& out) {
  if (&s == &out) return;
  for (int c = 0; c < 3; ++c) std::copy_n(s.colour(c), s.padded(), out.colour(c));
}

void blend(scene::BlendMode mode, const Planes& backdrop, const Planes& source, Planes& out) {
  // In the order of scene::BlendMode: a new mode is its formula and its line here.
  using Blend = void (*)(const Planes&, const Planes&, Planes&);
  static constexpr Blend kBlends[scene::kBlendModeCount] = {
      normal,
      separable<Multiply>,
      separable<Screen>,
      separable<Overlay>,
      separable<Darken>,
      separable<Lighten>,
      separable<ColorDodge>,
      separable<ColorBurn>,
      separable<HardLight>,
      separable<SoftLight>,
      separable<Difference>,
      separable<Exclusion>,
      whole<Hue>,
      whole<Saturation>,
      whole<Color>,
      whole<Luminosity>,
      separable<AddLight>,
      separable<SubtractLight>,
      separable<DivideLight>,
  };
  kBlends[std::size_t(mode)](backdrop, source, out);
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {

HWY_EXPORT(blend);

void blendPlanes(scene::BlendMode mode, const Planes& backdrop, const Planes& source, Planes& out) {
  HWY_DYNAMIC_DISPATCH(blend)(mode, backdrop, source, out);
}

}  // namespace hseam::render
#endif
