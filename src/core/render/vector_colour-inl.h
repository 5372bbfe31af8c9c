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

// table[at], at[i] interpolated: at ≥ 0.
HWY_INLINE FloatV interpolated(Float d, const float* table, FloatV at) {
  const Int di;
  const auto i = hn::ConvertTo(di, at);
  const auto w = hn::Sub(at, hn::ConvertTo(d, i));
  const auto low = hn::GatherIndex(d, table, i), high = hn::GatherIndex(d, table + 1, i);
  return hn::Add(hn::Mul(low, hn::Sub(hn::Set(d, 1.f), w)), hn::Mul(high, w));
}

HWY_INLINE FloatV clamped(Float d, FloatV v) {
  return hn::Min(hn::Max(v, hn::Zero(d)), hn::Set(d, 1.f));
}

// As image::fastLinear, to the bit.
HWY_INLINE FloatV linear(Float d, FloatV encoded, const image::TransferTables& t) {
  return interpolated(d, t.linearOfSteps.data(), hn::Mul(clamped(d, encoded), hn::Set(d, 1024.f)));
}

// As image::fastEncoded, to the bit.
HWY_INLINE FloatV encoded(Float d, FloatV x, const image::TransferTables& t) {
  const Int di;
  const auto least = hn::Set(d, 1.52587890625e-05f), one = hn::Set(d, 1.f);
  const auto inside = hn::Min(hn::Max(x, least), one);
  const auto bits = hn::Sub(hn::BitCast(di, inside), hn::Set(di, 0x37800000));
  const auto i = hn::ShiftRight<17>(bits);
  const auto w = hn::Mul(hn::ConvertTo(d, hn::And(bits, hn::Set(di, 0x1ffff))), hn::Set(d, 1.f / 131072.f));
  const auto low = hn::GatherIndex(d, t.encodedOfBits.data(), i), high = hn::GatherIndex(d, t.encodedOfBits.data() + 1, i);
  const auto curved = hn::Add(hn::Mul(low, hn::Sub(one, w)), hn::Mul(high, w));
  const auto straight = hn::Mul(hn::Set(d, 12.92f), hn::Max(x, hn::Zero(d)));
  const auto value = hn::IfThenElse(hn::Gt(x, least), curved, straight);
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
