#pragma once
// The sRGB transfer curve (IEC 61966-2-1) between encoded and linear values, both 0..1.

#include <array>
#include <bit>
#include <cstdint>

namespace hseam::image {

/// Exact to double rounding; slow. Negative values mirror.
double linearFromEncoded(double encoded);
double encodedFromLinear(double linear);

/// Tables behind the fast forms; built once, read by any thread.
struct TransferTables {
  std::array<float, 256> linearOf8;
  std::array<float, 1026> linearOfSteps;         // at k / 1024
  std::array<float, 16 * 64 + 2> encodedOfBits;  // by exponent and six bits of mantissa, from 2^-16 to 1
};
const TransferTables& transferTables();

/// Error below 1e-6; x is clamped to 0..1, what is no number counts as 0.
inline float fastLinear(float x, const TransferTables& t) {
  x = x > 0.f ? (x < 1.f ? x : 1.f) : 0.f;
  const float at = x * 1024.f;
  const int i = static_cast<int>(at);
  const float w = at - static_cast<float>(i);
  return t.linearOfSteps[static_cast<std::size_t>(i)] * (1.f - w) + t.linearOfSteps[static_cast<std::size_t>(i) + 1] * w;
}

/// Error below 1e-5; x is clamped to 0..1. Steps follow the float's own exponent, so darks are as exact as lights.
inline float fastEncoded(float x, const TransferTables& t) {
  if (!(x > 1.52587890625e-05f)) return x > 0.f ? 12.92f * x : 0.f;  // 2^-16: the straight part of the curve
  if (x >= 1.f) return 1.f;
  const std::uint32_t bits = std::bit_cast<std::uint32_t>(x) - 0x37800000u;  // exponent counted from 2^-16
  const std::uint32_t i = bits >> 17;
  const float w = static_cast<float>(bits & 0x1ffffu) * (1.f / 131072.f);
  return t.encodedOfBits[i] * (1.f - w) + t.encodedOfBits[i + 1] * w;
}

}  // namespace hseam::image
