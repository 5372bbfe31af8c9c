#include "core/render/effects/light.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/effects/light.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

#include "core/render/vector_colour-inl.h"

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

void lightOf(Planes& p) {
  const Float d;
  for (int i = 0, n = p.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto a = hn::Load(d, p.alpha() + i);
    for (int c = 0; c < 3; ++c) {
      float* v = p.colour(c) + i;
      hn::Store(hn::IfThenElseZero(hn::Gt(a, hn::Zero(d)), hn::Mul(linear(d, hn::Load(d, v)), a)), d, v);
    }
  }
}

void coloursOf(Planes& p) {
  const Float d;
  for (int i = 0, n = p.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto a = hn::Load(d, p.alpha() + i);
    const auto seen = hn::Gt(a, hn::Set(d, 1e-5f));
    const auto inverse = hn::Div(hn::Set(d, 1.f), hn::IfThenElse(seen, a, hn::Set(d, 1.f)));
    for (int c = 0; c < 3; ++c) {
      float* v = p.colour(c) + i;
      hn::Store(hn::IfThenElseZero(seen, encoded(d, hn::Mul(hn::Load(d, v), inverse))), d, v);
    }
    hn::Store(clamped(d, a), d, p.alpha() + i);
  }
}

void unclipped(Planes& p, float from, float most) {
  const Float d;
  const auto zero = hn::Zero(d), one = hn::Set(d, 1.f), start = hn::Set(d, from), inverse = hn::Set(d, 1 / (1 - from));
  for (int i = 0, n = p.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto a = hn::Load(d, p.alpha() + i);
    const Rgb c{hn::Load(d, p.colour(0) + i), hn::Load(d, p.colour(1) + i), hn::Load(d, p.colour(2) + i)};
    const auto high = render::HWY_NAMESPACE::most(c);
    const auto lit = hn::And(hn::Gt(a, zero), hn::Gt(high, hn::Mul(start, a)));
    if (hn::AllFalse(d, lit)) continue;
    const auto share = hn::Div(high, hn::IfThenElse(lit, a, one));
    const auto w = clamped(d, hn::Mul(hn::Sub(share, start), inverse));
    const auto gain = hn::IfThenElse(lit, hn::Add(one, hn::Mul(hn::Set(d, most), hn::Mul(w, w))), one);
    hn::Store(hn::Mul(c.r, gain), d, p.colour(0) + i);
    hn::Store(hn::Mul(c.g, gain), d, p.colour(1) + i);
    hn::Store(hn::Mul(c.b, gain), d, p.colour(2) + i);
  }
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {

HWY_EXPORT(lightOf);
HWY_EXPORT(coloursOf);
HWY_EXPORT(unclipped);

namespace effects {

void toLight(Planes& p) {
  HWY_DYNAMIC_DISPATCH(lightOf)(p);
}
void fromLight(Planes& p) {
  HWY_DYNAMIC_DISPATCH(coloursOf)(p);
}
void giveBackClipped(Planes& p, float from, float most) {
  HWY_DYNAMIC_DISPATCH(unclipped)(p, from, most);
}

}  // namespace effects
}  // namespace hseam::render
#endif
