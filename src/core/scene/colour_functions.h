#pragma once
// One pixel in, one pixel out: the adjustments of the table that look at nothing else. In double precision they are the
// definition (AdjustmentFunction), in float what renders. Straight sRGB-encoded values, 0..1.

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <string>
#include <vector>

#include "core/image/transfer.h"
#include "core/scene/adjustment_kinds.h"

namespace hseam::scene {

template <class T>
T linearOf(T v);
template <>
inline double linearOf(double v) {
  return image::linearFromEncoded(v);
}
template <>
inline float linearOf(float v) {
  return image::fastLinear(v);
}
template <class T>
T encodedOf(T v);
template <>
inline double encodedOf(double v) {
  return image::encodedFromLinear(v);
}
template <>
inline float encodedOf(float v) {
  return image::fastEncoded(v);
}

template <class T>
T clamped(T v) {
  return v > T(0) ? (v < T(1) ? v : T(1)) : T(0);
}
/// W3C luma and ClipColor.
template <class T>
T lumaOf(const T* c) {
  return T(0.3) * c[0] + T(0.59) * c[1] + T(0.11) * c[2];
}
template <class T>
void clipKeepingLuma(T* c) {
  const T l = lumaOf(c), low = std::min({c[0], c[1], c[2]});
  if (low < 0 && l > low) {
    for (int i = 0; i < 3; ++i) c[i] = l + (c[i] - l) * l / (l - low);
  }
  const T high = std::max({c[0], c[1], c[2]});
  if (high > 1 && high > l) {
    for (int i = 0; i < 3; ++i) c[i] = l + (c[i] - l) * (1 - l) / (high - l);
  }
  for (int i = 0; i < 3; ++i) c[i] = clamped(c[i]);
}

/// 0.5 + (v + brightness / 2 − 0.5) · k, with k = 1 + 3·contrast above 0 and 1 + contrast below.
template <class T>
struct BrightnessContrast {
  T add, k;
  explicit BrightnessContrast(const std::vector<double>& v) : add(T(v[0] / 2)), k(T(v[1] >= 0 ? 1 + 3 * v[1] : 1 + v[1])) {}
  void operator()(T* c) const {
    for (int i = 0; i < 3; ++i) c[i] = clamped((c[i] + add - T(0.5)) * k + T(0.5));
  }
};

/// ASC CDL 1.2: (v · slope + offset) held to 0..1, to the power; then saturation about Rec. 709 luma.
template <class T>
struct SlopeOffsetPower {
  T slope[3], offset[3], power[3], saturation;
  explicit SlopeOffsetPower(const std::vector<double>& v) : saturation(T(v[9])) {
    for (std::size_t i = 0; i < 3; ++i) slope[i] = T(v[3 * i]), offset[i] = T(v[3 * i + 1]), power[i] = T(v[3 * i + 2]);
  }
  void operator()(T* c) const {
    for (int i = 0; i < 3; ++i) {
      c[i] = clamped(c[i] * slope[i] + offset[i]);
      if (power[i] != T(1)) c[i] = std::pow(c[i], power[i]);
    }
    const T l = T(0.2126) * c[0] + T(0.7152) * c[1] + T(0.0722) * c[2];
    for (int i = 0; i < 3; ++i) c[i] = clamped(l + saturation * (c[i] - l));
  }
};

/// Hue 0..6 of the hexcone (0 red, 1 yellow, 2 green …); 0 for grey.
template <class T>
T hueOf(const T* c, T low, T high) {
  const T chroma = high - low;
  if (chroma <= 0) return 0;
  if (high == c[0]) return (c[1] - c[2]) / chroma + (c[1] < c[2] ? T(6) : T(0));
  if (high == c[1]) return (c[2] - c[0]) / chroma + 2;
  return (c[0] - c[1]) / chroma + 4;
}
/// How much of a channel a hue holds, 0..1; channel 0 red, 1 green, 2 blue.
template <class T>
T channelOfHue(T hue, int channel) {
  T k = hue - T(2 * channel);
  k -= T(6) * std::floor((k + 3) / 6);  // −3..3 about the channel's own hue
  return clamped(T(2) - std::abs(k));
}

/// Hue, saturation and lightness of HSL, moved by the sum of "all" and of the two ranges that the hue lies between, each by its
/// nearness; the ranges fade in from grey over the first tenth of chroma.
template <class T>
struct HueBands {
  T move[7][3];
  explicit HueBands(const std::vector<double>& v) {
    for (std::size_t b = 0; b < 7; ++b) {
      for (std::size_t k = 0; k < 3; ++k) move[b][k] = T(v[3 * b + k] / (k == 0 ? 60 : 1));
    }
  }
  void operator()(T* c) const {
    const T low = std::min({c[0], c[1], c[2]}), high = std::max({c[0], c[1], c[2]}), chroma = high - low;
    T hue = hueOf(c, low, high);
    const int first = std::min(5, int(hue)), second = (first + 1) % 6;
    const T w = hue - T(first), fade = std::min(T(1), T(10) * chroma);
    T by[3];
    for (int k = 0; k < 3; ++k) by[k] = move[0][k] + fade * ((1 - w) * move[first + 1][k] + w * move[second + 1][k]);
    T light = (high + low) / 2;
    const T room = 1 - std::abs(2 * light - 1);
    T saturation = room > T(1e-6) ? chroma / room : T(0);
    saturation = clamped(saturation * (1 + by[1]));
    const T lift = std::clamp(by[2], T(-1), T(1));
    light = lift >= 0 ? light + (1 - light) * lift : light * (1 + lift);
    hue += by[0];
    const T reach = saturation * (1 - std::abs(2 * light - 1));
    for (int i = 0; i < 3; ++i) c[i] = clamped(light + reach * (channelOfHue(hue, i) - T(0.5)));
  }
};

/// Distance from luma times 1 + amount · (1 − s), with s = (max − min) / max.
template <class T>
struct SparingVivid {
  T amount;
  explicit SparingVivid(const std::vector<double>& v) : amount(T(v[0])) {}
  void operator()(T* c) const {
    const T low = std::min({c[0], c[1], c[2]}), high = std::max({c[0], c[1], c[2]});
    const T s = high > T(1e-6) ? (high - low) / high : T(0), k = 1 + amount * (1 - s), l = lumaOf(c);
    for (int i = 0; i < 3; ++i) c[i] = l + k * (c[i] - l);
    clipKeepingLuma(c);
  }
};

/// Light is adapted (Bradford) from the Planckian white of 6504 K to the one `mired` away, then green is lessened by
/// 2^(−tint/2) and the white's luminance restored. In linear light; row-major.
std::array<double, 9> warmthMatrix(double mired, double tint);
template <class T>
struct Warmth {
  T m[9];
  explicit Warmth(const std::vector<double>& v) {
    const auto exact = warmthMatrix(v[0], v[1]);
    for (std::size_t i = 0; i < 9; ++i) m[i] = T(exact[i]);
  }
  void operator()(T* c) const {
    const T r = linearOf(c[0]), g = linearOf(c[1]), b = linearOf(c[2]);
    for (int i = 0; i < 3; ++i) c[i] = encodedOf(clamped(m[3 * i] * r + m[3 * i + 1] * g + m[3 * i + 2] * b));
  }
};

/// Linear light times 1 − strength + strength · lin(gel); "keep" gives back the lost luminance in part or whole.
template <class T>
struct Gel {
  T through[3], keep;
  explicit Gel(const std::vector<double>& v) : keep(T(v[4])) {
    for (std::size_t i = 0; i < 3; ++i) through[i] = T(1 - v[3] + v[3] * image::linearFromEncoded(v[i]));
  }
  void operator()(T* c) const {
    T before = 0, after = 0;
    constexpr T kY[3] = {T(0.2126), T(0.7152), T(0.0722)};
    T lin[3];
    for (int i = 0; i < 3; ++i) {
      lin[i] = linearOf(c[i]);
      before += kY[i] * lin[i];
      lin[i] *= through[i];
      after += kY[i] * lin[i];
    }
    const T gain = after > T(1e-9) ? 1 + keep * (before / after - 1) : T(1);
    for (int i = 0; i < 3; ++i) c[i] = encodedOf(clamped(lin[i] * gain));
  }
};

/// With t = luma^(2^−balance): (1 − t)² of the shadows' and t² of the highlights' direction, each a pure hue less its luma, half
/// as strong; luma stays.
template <class T>
struct TwoTones {
  T darks[3], lights[3], bend;
  explicit TwoTones(const std::vector<double>& v) : bend(T(std::exp2(-v[4]))) {
    const auto direction = [](double degrees, double strength, T* to) {
      double pure[3];
      for (int i = 0; i < 3; ++i) pure[i] = channelOfHue(degrees / 60, i);
      const double l = lumaOf(pure);
      for (int i = 0; i < 3; ++i) to[i] = T(0.5 * strength * (pure[i] - l));
    };
    direction(v[0], v[1], darks);
    direction(v[2], v[3], lights);
  }
  void operator()(T* c) const {
    T t = clamped(lumaOf(c));
    if (bend != T(1)) t = std::pow(t, bend);
    for (int i = 0; i < 3; ++i) c[i] += (1 - t) * (1 - t) * darks[i] + t * t * lights[i];
    clipKeepingLuma(c);
  }
};

/// The least channel as it is; the part of two channels above it by the weight of their mixed hue, the rest by that of the
/// greatest. With the initial weights this is luma.
template <class T>
struct GreyFromColours {
  T weight[6];
  explicit GreyFromColours(const std::vector<double>& v) {
    for (std::size_t i = 0; i < 6; ++i) weight[i] = T(v[i]);
  }
  void operator()(T* c) const {
    const T low = std::min({c[0], c[1], c[2]}), high = std::max({c[0], c[1], c[2]});
    const T middle = c[0] + c[1] + c[2] - low - high;
    const T hue = hueOf(c, low, high);
    const int sixth = std::min(5, int(hue));
    // Primaries lie at even hues, their mixtures at odd ones.
    const int mixed = sixth % 2 ? sixth : sixth + 1, pure = (sixth % 2 ? sixth + 1 : sixth) % 6;
    const T v = clamped(low + (middle - low) * weight[mixed] + (high - middle) * weight[pure]);
    c[0] = c[1] = c[2] = v;
  }
};

template <class T>
struct FewTones {
  T most;
  explicit FewTones(const std::vector<double>& v) : most(T(std::round(v[0]) - 1)) {}
  void operator()(T* c) const {
    for (int i = 0; i < 3; ++i) c[i] = std::round(clamped(c[i]) * most) / most;
  }
};

/// Calls f with the pixel function of a kind for these values, as a function object of type T; false: the kind is no pixel
/// function.
template <class T, class F>
bool withPixelFunction(AdjustmentId id, const std::vector<double>& values, const F& f) {
  if (id == AdjustmentId::brightness) return f(BrightnessContrast<T>(values)), true;
  if (id == AdjustmentId::slope) return f(SlopeOffsetPower<T>(values)), true;
  if (id == AdjustmentId::hues) return f(HueBands<T>(values)), true;
  if (id == AdjustmentId::vivid) return f(SparingVivid<T>(values)), true;
  if (id == AdjustmentId::warmth) return f(Warmth<T>(values)), true;
  if (id == AdjustmentId::gel) return f(Gel<T>(values)), true;
  if (id == AdjustmentId::twoTones) return f(TwoTones<T>(values)), true;
  if (id == AdjustmentId::grey) return f(GreyFromColours<T>(values)), true;
  if (id == AdjustmentId::posterise) return f(FewTones<T>(values)), true;
  return false;
}

}  // namespace hseam::scene
