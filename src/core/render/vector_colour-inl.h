// Colour in vectors, once for every instruction set: included between HWY_BEFORE_NAMESPACE and HWY_AFTER_NAMESPACE of a kernel
// file. Products and sums are never fused, so that every instruction set gives the same bits.

#if defined(HSEAM_VECTOR_COLOUR_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef HSEAM_VECTOR_COLOUR_INL_H
#undef HSEAM_VECTOR_COLOUR_INL_H
#else
#define HSEAM_VECTOR_COLOUR_INL_H
#endif

#include <hwy/highway.h>

#include "core/image/transfer.h"

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;
using Float = hn::ScalableTag<float>;
using Int = hn::RebindToSigned<Float>;
using FloatV = hn::Vec<Float>;

struct Rgb {
  FloatV r, g, b;
};

HWY_INLINE FloatV clamped(Float d, FloatV v) {
  return hn::Min(hn::Max(v, hn::Zero(d)), hn::Set(d, 1.f));
}

// As image::polynomial, to the bit.
template <std::size_t n>
HWY_INLINE FloatV polynomial(Float d, const float (&p)[n], FloatV x) {
  auto sum = hn::Set(d, p[n - 1]);
  for (std::size_t k = n - 1; k-- > 0;) sum = hn::Add(hn::Mul(sum, x), hn::Set(d, p[k]));
  return sum;
}

// As image::fastLinear, to the bit.
HWY_INLINE FloatV linear(Float d, FloatV code) {
  const auto x = clamped(d, code), one = hn::Set(d, 1.f);
  const auto value = hn::IfThenElse(hn::Le(x, hn::Set(d, image::kStraightEncoded)), hn::Mul(x, hn::Set(d, 1.f / 12.92f)),
                                    polynomial(d, image::kLinearOf, x));
  return hn::IfThenElse(hn::Ge(x, one), one, value);
}

// As image::fastEncoded, to the bit.
HWY_INLINE FloatV encoded(Float d, FloatV light) {
  const auto x = clamped(d, light), one = hn::Set(d, 1.f);
  const auto value = hn::IfThenElse(hn::Le(x, hn::Set(d, image::kStraightLinear)), hn::Mul(hn::Set(d, 12.92f), x),
                                    hn::Div(polynomial(d, image::kEncodedOf, x), polynomial(d, image::kEncodedBy, x)));
  return hn::IfThenElse(hn::Ge(x, one), one, value);
}

HWY_INLINE FloatV lum(Float d, const Rgb& c) {
  return hn::Add(hn::Add(hn::Mul(hn::Set(d, 0.3f), c.r), hn::Mul(hn::Set(d, 0.59f), c.g)), hn::Mul(hn::Set(d, 0.11f), c.b));
}
HWY_INLINE FloatV least(const Rgb& c) {
  return hn::Min(hn::Min(c.r, c.g), c.b);
}
HWY_INLINE FloatV most(const Rgb& c) {
  return hn::Max(hn::Max(c.r, c.g), c.b);
}
HWY_INLINE FloatV towards(FloatV l, FloatV v, FloatV k) {
  return hn::Add(l, hn::Mul(hn::Sub(v, l), k));
}

// W3C Compositing Level 1, 10.2: ClipColor. A grey that rounding moved just out of 0..1 has no chroma to shrink.
HWY_INLINE Rgb clipColor(Float d, const Rgb& in) {
  const auto zero = hn::Zero(d), one = hn::Set(d, 1.f);
  const auto l = lum(d, in), n = least(in);
  const auto low = hn::And(hn::Lt(n, zero), hn::Gt(l, n)), grey = hn::Le(most(in), n);
  Rgb c = in;
  if (!hn::AllFalse(d, low)) {
    const auto k = hn::IfThenElse(low, hn::Div(l, hn::Sub(l, n)), one);
    c = {hn::IfThenElse(low, towards(l, c.r, k), c.r), hn::IfThenElse(low, towards(l, c.g, k), c.g),
         hn::IfThenElse(low, towards(l, c.b, k), c.b)};
  }
  // Colours that reach out on both sides (the text's never do) are pulled in once for each.
  const auto x = most(c);
  const auto high = hn::And(hn::Gt(x, one), hn::Gt(x, l));
  if (!hn::AllFalse(d, high)) {
    const auto k = hn::IfThenElse(high, hn::Div(hn::Sub(one, l), hn::Sub(x, l)), one);
    c = {hn::IfThenElse(high, towards(l, c.r, k), c.r), hn::IfThenElse(high, towards(l, c.g, k), c.g),
         hn::IfThenElse(high, towards(l, c.b, k), c.b)};
  }
  const auto level = clamped(d, l);
  return {hn::IfThenElse(grey, level, c.r), hn::IfThenElse(grey, level, c.g), hn::IfThenElse(grey, level, c.b)};
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#endif
