#include "core/scene/colour_functions.h"

namespace hseam::scene {
namespace {

using Matrix = std::array<double, 9>;

Matrix times(const Matrix& a, const Matrix& b) {
  Matrix out{};
  for (std::size_t i = 0; i < 3; ++i) {
    for (std::size_t j = 0; j < 3; ++j) {
      for (std::size_t k = 0; k < 3; ++k) out[3 * i + j] += a[3 * i + k] * b[3 * k + j];
    }
  }
  return out;
}
std::array<double, 3> times(const Matrix& m, const std::array<double, 3>& v) {
  return {m[0] * v[0] + m[1] * v[1] + m[2] * v[2], m[3] * v[0] + m[4] * v[1] + m[5] * v[2],
          m[6] * v[0] + m[7] * v[1] + m[8] * v[2]};
}
Matrix inverse(const Matrix& m) {
  const double d = m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
  return {(m[4] * m[8] - m[5] * m[7]) / d, (m[2] * m[7] - m[1] * m[8]) / d, (m[1] * m[5] - m[2] * m[4]) / d,
          (m[5] * m[6] - m[3] * m[8]) / d, (m[0] * m[8] - m[2] * m[6]) / d, (m[2] * m[3] - m[0] * m[5]) / d,
          (m[3] * m[7] - m[4] * m[6]) / d, (m[1] * m[6] - m[0] * m[7]) / d, (m[0] * m[4] - m[1] * m[3]) / d};
}

// Kim, Moon et al. 2002 (US patent 7024034): the Planckian locus from 1667 to 25000 K, as XYZ of Y = 1.
std::array<double, 3> planckian(double kelvin) {
  const double t = std::clamp(kelvin, 1667.0, 25000.0);
  const double i = 1e3 / t, i2 = i * i, i3 = i2 * i;
  const double x = t <= 4000 ? -0.2661239 * i3 - 0.2343589 * i2 + 0.8776956 * i + 0.179910
                             : -3.0258469 * i3 + 2.1070379 * i2 + 0.2226347 * i + 0.240390;
  const double x2 = x * x, x3 = x2 * x;
  const double y = t <= 2222   ? -1.1063814 * x3 - 1.34811020 * x2 + 2.18555832 * x - 0.20219683
                   : t <= 4000 ? -0.9549476 * x3 - 1.37418593 * x2 + 2.09137015 * x - 0.16748867
                               : 3.0817580 * x3 - 5.87338670 * x2 + 3.75112997 * x - 0.37001483;
  return {x / y, 1, (1 - x - y) / y};
}

// IEC 61966-2-1 primaries, D65.
constexpr Matrix kXyzFromRgb = {0.4123908, 0.3575843, 0.1804808, 0.2126390, 0.7151687,
                                0.0721923, 0.0193308, 0.1191948, 0.9505322};
constexpr Matrix kBradford = {0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296};
constexpr double kMiredOfNeutral = 1e6 / 6504;

}  // namespace

std::array<double, 9> warmthMatrix(double mired, double tint) {
  const auto from = times(kBradford, planckian(1e6 / kMiredOfNeutral));
  const auto to = times(kBradford, planckian(1e6 / std::max(10.0, kMiredOfNeutral + mired)));
  Matrix gain{};
  for (std::size_t i = 0; i < 3; ++i) gain[4 * i] = to[i] / from[i];
  Matrix m = times(inverse(kXyzFromRgb), times(inverse(kBradford), times(gain, times(kBradford, kXyzFromRgb))));
  for (std::size_t j = 0; j < 3; ++j) m[3 + j] *= std::exp2(-tint / 2);
  const auto white = times(m, std::array<double, 3>{1, 1, 1});
  const double y = 0.2126390 * white[0] + 0.7151687 * white[1] + 0.0721923 * white[2];
  for (double& v : m) v /= y;
  return m;
}

}  // namespace hseam::scene
