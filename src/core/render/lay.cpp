#include "core/render/lay.h"

#include <algorithm>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/render/lay.cpp"
#include <hwy/foreach_target.h>
// The order matters: the line above includes this file again for every instruction set.
#include <hwy/highway.h>

#include "core/render/vector_colour-inl.h"

// Shortcuts are taken by whole vectors, and which pixels share a vector depends on how an area was split. So each of them gives
// the same bits as the long way for every pixel that allows it: products with 0 and 1 and a division by 1 are exact.

HWY_BEFORE_NAMESPACE();
namespace hseam::render::HWY_NAMESPACE {

using FloatM = hn::Mask<Float>;

// What lies between two colours, with weights that add up to 1 / inverse.
HWY_INLINE FloatV between(Float d, FloatV cb, FloatV wb, FloatV cx, FloatV wx, FloatV inverse, scene::Mixing mixing) {
  if (mixing == scene::Mixing::encoded) return hn::Mul(hn::Add(hn::Mul(wb, cb), hn::Mul(wx, cx)), inverse);
  const auto sum = hn::Add(hn::Mul(wb, linear(d, cb)), hn::Mul(wx, linear(d, cx)));
  return encoded(d, hn::Mul(sum, inverse));
}

void lay(Planes& backdrop, const Planes& source, const Planes& blended, float opacity, scene::Mixing mixing) {
  const Float d;
  const auto zero = hn::Zero(d), one = hn::Set(d, 1.f), o = hn::Set(d, opacity), rest = hn::Set(d, 1 - opacity);
  const bool replaces = opacity >= 1 && &source == &blended;  // a normal layer at full strength: X is Cs itself
  for (int i = 0, n = backdrop.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto a = hn::Load(d, source.alpha() + i);
    const FloatM covered = hn::Gt(a, zero);
    if (hn::AllFalse(d, covered)) continue;
    const auto ab = hn::Load(d, backdrop.alpha() + i);
    const FloatM solid = hn::Ge(ab, one);
    const auto ax = replaces ? one : hn::Add(o, hn::Mul(ab, rest));
    FloatV x[3], cb[3];
    for (int c = 0; c < 3; ++c) cb[c] = hn::Load(d, backdrop.colour(c) + i);
    if (replaces) {
      for (int c = 0; c < 3; ++c) x[c] = hn::Load(d, source.colour(c) + i);
    } else if (hn::AllTrue(d, solid)) {
      for (int c = 0; c < 3; ++c) {
        const auto sum = hn::Add(hn::Mul(o, hn::Load(d, blended.colour(c) + i)), hn::Mul(rest, cb[c]));
        x[c] = opacity >= 1 ? sum : hn::Div(sum, ax);
      }
    } else {
      const auto through = hn::Sub(one, ab), kept = hn::Mul(rest, ab);
      for (int c = 0; c < 3; ++c) {
        const auto mixed =
            hn::Add(hn::Mul(through, hn::Load(d, source.colour(c) + i)), hn::Mul(ab, hn::Load(d, blended.colour(c) + i)));
        x[c] = hn::Div(hn::Add(hn::Mul(o, mixed), hn::Mul(kept, cb[c])), ax);
      }
    }
    auto alpha = ax;
    const FloatM inPart = hn::And(covered, hn::Lt(a, one));
    if (!hn::AllFalse(d, inPart)) {
      const auto wb = hn::Mul(hn::Sub(one, a), ab), wx = hn::Mul(a, ax), total = hn::Add(wb, wx);
      alpha = hn::IfThenElse(inPart, total, ax);
      const FloatM both = hn::And(inPart, hn::Gt(wb, zero));
      if (!hn::AllFalse(d, both)) {
        const auto inverse = hn::Div(one, hn::IfThenElse(both, total, one));
        for (int c = 0; c < 3; ++c) x[c] = hn::IfThenElse(both, between(d, cb[c], wb, x[c], wx, inverse, mixing), x[c]);
      }
    }
    const FloatM changed = hn::And(covered, hn::Gt(ax, zero));
    hn::Store(hn::IfThenElse(changed, alpha, ab), d, backdrop.alpha() + i);
    for (int c = 0; c < 3; ++c) hn::Store(hn::IfThenElse(changed, x[c], cb[c]), d, backdrop.colour(c) + i);
  }
}

void layOnColour(Planes& backdrop, const Planes& source, const Planes& blended, float opacity, scene::Mixing mixing) {
  const Float d;
  const auto zero = hn::Zero(d), one = hn::Set(d, 1.f), o = hn::Set(d, opacity), rest = hn::Set(d, 1 - opacity);
  for (int i = 0, n = backdrop.padded(); i < n; i += int(hn::Lanes(d))) {
    const auto a = hn::Load(d, source.alpha() + i);
    const FloatM changed = hn::And(hn::Gt(a, zero), hn::Gt(hn::Load(d, backdrop.alpha() + i), zero));
    if (hn::AllFalse(d, changed)) continue;
    const FloatM inPart = hn::And(changed, hn::Lt(a, one));
    const bool any = !hn::AllFalse(d, inPart);
    for (int c = 0; c < 3; ++c) {
      const auto cb = hn::Load(d, backdrop.colour(c) + i);
      auto x = hn::Add(hn::Mul(rest, cb), hn::Mul(o, hn::Load(d, blended.colour(c) + i)));
      if (any) x = hn::IfThenElse(inPart, between(d, cb, hn::Sub(one, a), x, a, one, mixing), x);
      hn::Store(hn::IfThenElse(changed, x, cb), d, backdrop.colour(c) + i);
    }
  }
}

}  // namespace hseam::render::HWY_NAMESPACE
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace hseam::render {

HWY_EXPORT(lay);
HWY_EXPORT(layOnColour);

void layDown(Planes& backdrop, const Planes& source, const Planes& blended, float opacity, scene::Mixing mixing) {
  HWY_DYNAMIC_DISPATCH(lay)(backdrop, source, blended, opacity, mixing);
}

void layAdjustment(Planes& backdrop, const Planes& source, const Planes& blended, float opacity, scene::Mixing mixing) {
  HWY_DYNAMIC_DISPATCH(layOnColour)(backdrop, source, blended, opacity, mixing);
}

void replaceBy(Planes& backdrop, const Planes& outcome, const float* cover, float o, scene::Mixing mixing) {
  const auto mixed = [&](float cb, float wb, float cx, float wx, bool light) {
    if (!light) return (wb * cb + wx * cx) / (wb + wx);
    return image::fastEncoded((wb * image::fastLinear(cb) + wx * image::fastLinear(cx)) / (wb + wx));
  };
  for (int i = 0, n = backdrop.count(); i < n; ++i) {
    const float a = cover[i], ab = backdrop.alpha()[i], an = outcome.alpha()[i];
    if (a <= 0) continue;
    const float ax = ab + o * (an - ab), alpha = ab + a * (ax - ab);
    if (alpha <= 0) continue;
    for (int c = 0; c < 3; ++c) {
      float& cb = backdrop.colour(c)[i];
      const float x = o >= 1 || ax <= 0 ? outcome.colour(c)[i] : mixed(cb, (1 - o) * ab, outcome.colour(c)[i], o * an, false);
      cb = a >= 1 ? x : mixed(cb, (1 - a) * ab, x, a * ax, mixing == scene::Mixing::linear);
    }
    backdrop.alpha()[i] = alpha;
  }
}

void takeOutBackdrop(const Planes& backdrop, const float* shape, Planes& outcome) {
  for (int i = 0, n = backdrop.count(); i < n; ++i) {
    const float ab = backdrop.alpha()[i];
    const float k = shape[i] > 0 ? ab / shape[i] - ab : 0.f;
    for (int c = 0; c < 3; ++c) {
      float& cn = outcome.colour(c)[i];
      cn = std::clamp(cn + (cn - backdrop.colour(c)[i]) * k, 0.f, 1.f);
    }
  }
}

}  // namespace hseam::render
#endif
