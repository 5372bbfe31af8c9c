#pragma once
// The sRGB transfer curve (IEC 61966-2-1) between encoded and linear values, both 0..1.

#include <array>
#include <cstddef>

namespace hseam::image {

/// Exact to double rounding; slow. Negative values mirror.
double linearFromEncoded(double encoded);
double encodedFromLinear(double linear);

/// Where the linear parts of the curves end.
inline constexpr float kStraightEncoded = 0.04045f, kStraightLinear = 0.0031308f;

/// Minimax approximations of the curved parts, lowest power first (Remez' exchange, Lawson's weights): faster in a vector loop
/// than gathering from tables. A polynomial of the encoded value; error below 2e-6, and below 1e-6 as an encoded value.
inline constexpr float kLinearOf[] = {8.395393323e-04f, 3.599962725e-02f,  4.736415864e-01f, 9.579920890e-01f,  -1.295068732e+00f,
                                      2.085093274e+00f, -2.555223047e+00f, 2.064910977e+00f, -9.632351093e-01f, 1.950510227e-01f};
/// A quotient of two polynomials of the linear value; error below 5e-6.
inline constexpr float kEncodedOf[] = {-0.02217546567f, 25.29869907f, 5100.354515f, 122525.216f, 479925.5829f, 241223.5172f};
inline constexpr float kEncodedBy[] = {1.f, 467.1281167f, 27400.41265f, 278896.6648f, 471502.8485f, 70534.96459f};

/// p[0] + p[1]·x + …, highest power first, each step rounded by itself: the order that vector loops must keep.
template <std::size_t n>
float polynomial(const float (&p)[n], float x) {
  float sum = p[n - 1];
  for (std::size_t k = n - 1; k-- > 0;) sum = sum * x + p[k];
  return sum;
}

/// Error below 2e-6; x is clamped to 0..1, what is no number counts as 0.
inline float fastLinear(float x) {
  x = x > 0.f ? (x < 1.f ? x : 1.f) : 0.f;
  if (x >= 1.f) return 1.f;
  return x <= kStraightEncoded ? x * (1.f / 12.92f) : polynomial(kLinearOf, x);
}

/// Error below 5e-6; x is clamped to 0..1, what is no number counts as 0.
inline float fastEncoded(float x) {
  x = x > 0.f ? (x < 1.f ? x : 1.f) : 0.f;
  if (x >= 1.f) return 1.f;
  return x <= kStraightLinear ? 12.92f * x : polynomial(kEncodedOf, x) / polynomial(kEncodedBy, x);
}

/// The nearest whole sample; v >= 0, within the sample's range. Unlike lround it is done in vectors.
template <class T>
T wholeOf(float v) {
  return T(v + 0.5f);  // NOLINT(bugprone-incorrect-roundings): no sample is negative, and a hair below a half does not matter
}

/// Of every 8-bit value; built once, read by any thread.
const std::array<float, 256>& linearOf8();

}  // namespace hseam::image
