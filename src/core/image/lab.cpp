#include "core/image/lab.h"

#include <cmath>
#include <numbers>

#include "core/image/transfer.h"

namespace hseam::image {
namespace {

double labCurve(double t) {
  return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116;
}

double hueDegrees(double a, double b) {
  if (a == 0 && b == 0) return 0;
  const double h = std::atan2(b, a) * 180 / std::numbers::pi;
  return h < 0 ? h + 360 : h;
}

double cosDeg(double d) {
  return std::cos(d * std::numbers::pi / 180);
}
double sinDeg(double d) {
  return std::sin(d * std::numbers::pi / 180);
}

}  // namespace

Lab labFromEncoded(const std::array<double, 3>& rgb) {
  const double r = linearFromEncoded(rgb[0]), g = linearFromEncoded(rgb[1]), b = linearFromEncoded(rgb[2]);
  const double x = (0.4360747 * r + 0.3850649 * g + 0.1430804 * b) / 0.9642200;
  const double y = 0.2225045 * r + 0.7168786 * g + 0.0606169 * b;
  const double z = (0.0139322 * r + 0.0971045 * g + 0.7141733 * b) / 0.8252100;
  const double fx = labCurve(x), fy = labCurve(y), fz = labCurve(z);
  return {116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)};
}

double deltaE2000(const Lab& x, const Lab& y) {
  const double c1 = std::hypot(x.a, x.b), c2 = std::hypot(y.a, y.b), mean = (c1 + c2) / 2;
  const double m7 = std::pow(mean, 7), g = 0.5 * (1 - std::sqrt(m7 / (m7 + std::pow(25.0, 7))));
  const double a1 = (1 + g) * x.a, a2 = (1 + g) * y.a;
  const double p1 = std::hypot(a1, x.b), p2 = std::hypot(a2, y.b);
  const double h1 = hueDegrees(a1, x.b), h2 = hueDegrees(a2, y.b);
  double dh = 0, hSum = h1 + h2;
  if (p1 * p2 != 0) {
    dh = h2 - h1;
    if (dh > 180) dh -= 360;
    if (dh < -180) dh += 360;
    if (std::abs(h1 - h2) > 180) hSum += hSum < 360 ? 360 : -360;
    hSum /= 2;
  }
  const double dL = y.l - x.l, dC = p2 - p1, dH = 2 * std::sqrt(p1 * p2) * sinDeg(dh / 2);
  const double lMean = (x.l + y.l) / 2, cMean = (p1 + p2) / 2;
  const double t =
      1 - 0.17 * cosDeg(hSum - 30) + 0.24 * cosDeg(2 * hSum) + 0.32 * cosDeg(3 * hSum + 6) - 0.20 * cosDeg(4 * hSum - 63);
  const double c7 = std::pow(cMean, 7), l50 = (lMean - 50) * (lMean - 50);
  const double sl = 1 + 0.015 * l50 / std::sqrt(20 + l50), sc = 1 + 0.045 * cMean, sh = 1 + 0.015 * cMean * t;
  const double turn = 30 * std::exp(-std::pow((hSum - 275) / 25, 2));
  const double rt = -2 * std::sqrt(c7 / (c7 + std::pow(25.0, 7))) * sinDeg(2 * turn);
  const double kl = dL / sl, kc = dC / sc, kh = dH / sh;
  return std::sqrt(kl * kl + kc * kc + kh * kh + rt * kc * kh);
}

}  // namespace hseam::image
