// The adjustments of the table against formulas written down a second time, in another form.

#include <nlohmann/json.hpp>

#include "core/image/transfer.h"
#include "core/scene/adjustment_record.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

using Rgb = std::array<double, 3>;

Rgb lin(const Rgb& c) {
  return {image::linearFromEncoded(c[0]), image::linearFromEncoded(c[1]), image::linearFromEncoded(c[2])};
}
double held(double v) {
  return std::clamp(v, 0.0, 1.0);
}
double luminance(const Rgb& c) {
  const Rgb l = lin(c);
  return 0.2126 * l[0] + 0.7152 * l[1] + 0.0722 * l[2];
}

// At least 48 colours: corners, greys, and some in between.
std::vector<Rgb> colours() {
  std::vector<Rgb> all;
  for (int i = 0; i < 27; ++i) all.push_back({(i % 3) / 2.0, (i / 3 % 3) / 2.0, (i / 9) / 2.0});
  test::Noise noise(5);
  while (all.size() < 60) all.push_back({noise.unit(), noise.unit(), noise.unit()});
  return all;
}

double worstOf(const Adjustment& a, const std::function<Rgb(const Rgb&)>& expected) {
  const AdjustmentFunction f(a);
  double most = 0;
  for (const Rgb& c : colours()) {
    const Rgb got = f(c), want = expected(c);
    for (std::size_t k = 0; k < 3; ++k) most = std::max(most, std::abs(got[k] - want[k]));
  }
  return most;
}

// HSL by angles in degrees, as textbooks write it.
Rgb fromHsl(double h, double s, double l) {
  h = std::fmod(std::fmod(h, 360) + 360, 360);
  const double c = (1 - std::abs(2 * l - 1)) * s, x = c * (1 - std::abs(std::fmod(h / 60, 2) - 1)), m = l - c / 2;
  const Rgb parts[] = {{c, x, 0}, {x, c, 0}, {0, c, x}, {0, x, c}, {x, 0, c}, {c, 0, x}};
  Rgb out = parts[int(h / 60) % 6];
  for (double& v : out) v += m;
  return out;
}
struct Hsl {
  double h, s, l;
};
Hsl toHsl(const Rgb& c) {
  const double high = std::max({c[0], c[1], c[2]}), low = std::min({c[0], c[1], c[2]}), d = high - low, l = (high + low) / 2;
  // The angle from the hexcone's corners.
  const double x = c[0] - 0.5 * (c[1] + c[2]), y = std::sqrt(3.0) / 2 * (c[1] - c[2]);
  double h = std::atan2(y, x) * 180 / M_PI;  // of the circle; near enough to tell the sixth
  if (d > 0)
    h = 60 * (high == c[0] ? std::fmod((c[1] - c[2]) / d + 6, 6) : high == c[1] ? (c[2] - c[0]) / d + 2 : (c[0] - c[1]) / d + 4);
  return {d > 0 ? h : 0, d > 0 ? d / (1 - std::abs(2 * l - 1)) : 0, l};
}

}  // namespace

class AdjustmentKindsTest : public QObject {
  Q_OBJECT
 private slots:
  void brightnessAndContrast() {
    const auto a = with(with(parametric(AdjustmentId::brightness), "brightness", 0.2), "contrast", 0.5);
    QVERIFY(worstOf(a, [](const Rgb& c) {
              Rgb out;
              for (std::size_t k = 0; k < 3; ++k) out[k] = held(0.5 + 2.5 * (c[k] - 0.4));
              return out;
            }) < 1e-12);
    QVERIFY(worstOf(with(parametric(AdjustmentId::brightness), "contrast", -1), [](const Rgb&) {
              return Rgb{0.5, 0.5, 0.5};
            }) < 1e-12);
    QVERIFY(actsByChannel(a));
  }
  void slopeOffsetPower() {
    auto a = parametric(AdjustmentId::slope);
    a.values = {1.2, 0.05, 0.8, 0.9, -0.02, 1.3, 1.1, 0.0, 1.0, 0.7};
    QVERIFY(worstOf(a, [](const Rgb& c) {
              const Rgb v{std::pow(held(1.2 * c[0] + 0.05), 0.8), std::pow(held(0.9 * c[1] - 0.02), 1.3), held(1.1 * c[2])};
              const double y = 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];
              return Rgb{held(y + 0.7 * (v[0] - y)), held(y + 0.7 * (v[1] - y)), held(y + 0.7 * (v[2] - y))};
            }) < 1e-12);
  }
  void huesTurnAndTheirRangesStayApart() {
    const auto turned = with(parametric(AdjustmentId::hues), "hue", 75);
    QVERIFY(worstOf(turned, [](const Rgb& c) {
              const Hsl h = toHsl(c);
              return fromHsl(h.h + 75, h.s, h.l);
            }) < 1e-9);
    const auto paler = with(with(parametric(AdjustmentId::hues), "saturation", -0.4), "lightness", 0.3);
    QVERIFY(worstOf(paler, [](const Rgb& c) {
              const Hsl h = toHsl(c);
              return fromHsl(h.h, 0.6 * h.s, h.l + 0.3 * (1 - h.l));
            }) < 1e-9);
    // Only the range between yellow and cyan, by nearness to green, moves.
    const auto greens = with(parametric(AdjustmentId::hues), "greensSaturation", -1);
    QVERIFY(worstOf(greens, [](const Rgb& c) {
              const Hsl h = toHsl(c);
              const double near = std::max(0.0, 1 - std::abs(h.h - 120) / 60);
              const double chroma = std::max({c[0], c[1], c[2]}) - std::min({c[0], c[1], c[2]});
              return fromHsl(h.h, h.s * (1 - near * std::min(1.0, 10 * chroma)), h.l);
            }) < 1e-9);
    const AdjustmentFunction f(greens);
    const Rgb red = f({0.9, 0.1, 0.1}), green = f({0.1, 0.9, 0.1});
    QVERIFY(std::abs(red[0] - 0.9) < 1e-12 && std::abs(red[1] - 0.1) < 1e-12 && std::abs(green[0] - 0.5) < 1e-12 &&
            std::abs(green[1] - 0.5) < 1e-12);
  }
  void vividColoursAreSpared() {
    const auto a = with(parametric(AdjustmentId::vivid), "amount", 0.8);
    QVERIFY(worstOf(a, [](const Rgb& c) {
              const double high = std::max({c[0], c[1], c[2]}), low = std::min({c[0], c[1], c[2]});
              const double s = high > 0 ? 1 - low / high : 0, l = 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
              Rgb out;
              for (std::size_t k = 0; k < 3; ++k) out[k] = l + (c[k] - l) * (1 + 0.8 * (1 - s));
              return clippedToGamut(out);
            }) < 1e-9);
    QVERIFY(AdjustmentFunction(a)({1, 0, 0}) == (Rgb{1, 0, 0}));
  }
  // The white of 6504 K becomes that of the other temperature: chromaticities of Planckian radiators after Planck's law and the
  // CIE 1931 observer (tables in Wyszecki and Stiles 1982), relative to sRGB's own white.
  void warmthMovesTheWhiteAlongPlancksLocus() {
    const struct {
      double mired, x, y;
    } truth[] = {{1e6 / 4000 - 1e6 / 6504, 0.3805, 0.3768},
                 {1e6 / 3000 - 1e6 / 6504, 0.4369, 0.4041},
                 {1e6 / 10000 - 1e6 / 6504, 0.2807, 0.2884}};
    for (const auto& t : truth) {
      // A dark grey, so that nothing is clipped.
      const Rgb out = lin(AdjustmentFunction(with(parametric(AdjustmentId::warmth), "mired", t.mired))({0.3, 0.3, 0.3}));
      const double X = 0.4124 * out[0] + 0.3576 * out[1] + 0.1805 * out[2],
                   Y = 0.2126 * out[0] + 0.7152 * out[1] + 0.0722 * out[2],
                   Z = 0.0193 * out[0] + 0.1192 * out[1] + 0.9505 * out[2];
      // sRGB's white lies beside the locus by 0.0032 in y and stays beside it.
      QVERIFY2(std::abs(X / (X + Y + Z) - t.x) < 0.006 && std::abs(Y / (X + Y + Z) - t.y) < 0.006,
               qPrintable(QStringLiteral("%1 %2").arg(X / (X + Y + Z)).arg(Y / (X + Y + Z))));
      QVERIFY(std::abs(Y - image::linearFromEncoded(0.3)) < 1e-4);
    }
    QVERIFY(worstOf(parametric(AdjustmentId::warmth), [](const Rgb& c) { return c; }) < 1e-6);
    const Rgb magenta = AdjustmentFunction(with(parametric(AdjustmentId::warmth), "tint", 1))({0.4, 0.4, 0.4});
    QVERIFY(magenta[0] > 0.41 && magenta[1] < 0.39 && std::abs(magenta[0] - magenta[2]) < 1e-9);
  }
  void gelTakesLightAndGivesItsLuminanceBack() {
    auto a = parametric(AdjustmentId::gel);
    a.values = {1, 0.5, 0.25, 0.6, 0};
    QVERIFY(worstOf(a, [](const Rgb& c) {
              const Rgb l = lin(c), g = lin({1, 0.5, 0.25});
              Rgb out;
              for (std::size_t k = 0; k < 3; ++k) out[k] = image::encodedFromLinear(l[k] * (0.4 + 0.6 * g[k]));
              return out;
            }) < 1e-9);
    const AdjustmentFunction kept(with(a, "keep", 1));
    for (const Rgb& c : {Rgb{0.3, 0.3, 0.3}, Rgb{0.2, 0.5, 0.4}, Rgb{0.1, 0.2, 0.6}})
      QVERIFY(std::abs(luminance(kept(c)) - luminance(c)) < 1e-9);
  }
  void tintsKeepLumaAndTheirTones() {
    auto a = parametric(AdjustmentId::twoTones);
    a.values = {240, 0.5, 40, 0.4, 0.2};
    const AdjustmentFunction f(a);
    for (const Rgb& c : colours()) QVERIFY(std::abs(luma(f(c)) - luma(c)) < 1e-9);
    const Rgb dark = f({0.25, 0.25, 0.25}), light = f({0.75, 0.75, 0.75});
    QVERIFY(dark[2] > 0.27 && dark[2] > dark[0] && light[0] > light[2] + 0.05);
    // Blue less its luma, half of one half, times (1 − t)² with t = 0.25^(2^−0.2).
    const double t = std::pow(0.25, std::exp2(-0.2)),
                 expected = 0.25 + (1 - t) * (1 - t) * 0.25 * (1 - 0.11) + t * t * 0.2 * (0 - (0.3 + 0.59 * 40 / 60));
    QVERIFY(std::abs(dark[2] - expected) < 1e-9);
  }
  void greyIsLumaUntilAWeightChanges() {
    QVERIFY(worstOf(parametric(AdjustmentId::grey), [](const Rgb& c) {
              const double l = luma(c);
              return Rgb{l, l, l};
            }) < 1e-9);
    const AdjustmentFunction f(with(with(parametric(AdjustmentId::grey), "reds", 0.8), "cyans", 0.2));
    QVERIFY(std::abs(f({1, 0, 0})[0] - 0.8) < 1e-12 && std::abs(f({0, 1, 1})[1] - 0.2) < 1e-12 &&
            std::abs(f({0, 1, 0})[2] - 0.59) < 1e-12 && std::abs(f({0.4, 0.4, 0.4})[0] - 0.4) < 1e-12);
    // Orange: half of it red, half yellow.
    QVERIFY(std::abs(f({1, 0.5, 0})[0] - (0.5 * 0.8 + 0.5 * 0.89)) < 1e-12);
  }
  void fewTonesAndTonesToColours() {
    QVERIFY(worstOf(with(parametric(AdjustmentId::posterise), "steps", 4), [](const Rgb& c) {
              Rgb out;
              for (std::size_t k = 0; k < 3; ++k) out[k] = std::floor(c[k] * 3 + 0.5) / 3;
              return out;
            }) < 1e-12);
    TonesToColours t{{{0.1, {0.1, 0, 0.2}}, {0.4, {0.6, 0.2, 0.1}}, {0.9, {1, 0.95, 0.8}}}};
    QVERIFY(worstOf(t, [](const Rgb& c) {
              const double l = 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
              const Rgb x{0.1, 0, 0.2}, y{0.6, 0.2, 0.1}, z{1, 0.95, 0.8};
              Rgb out;
              for (std::size_t k = 0; k < 3; ++k)
                out[k] = l <= 0.1  ? x[k]
                         : l < 0.4 ? x[k] + (l - 0.1) / 0.3 * (y[k] - x[k])
                         : l < 0.9 ? y[k] + (l - 0.4) / 0.5 * (z[k] - y[k])
                                   : z[k];
              return out;
            }) < 1e-9);
    QVERIFY(!validAdjustment(TonesToColours{{{0.5, {0, 0, 0}}, {0.5, {1, 1, 1}}}}).ok());
    QVERIFY(!validAdjustment(TonesToColours{{{0.5, {0, 0, 0}}}}).ok());
  }
  void lightnessCurveMovesLStarAndKeepsHue() {
    Curves c;
    c.lightness = {{0, 0}, {0.5, 0.35}, {1, 1}};
    const AdjustmentFunction f{Adjustment(c)};
    const auto lstar = [](const Rgb& v) { return 116 * std::cbrt(luminance(v)) - 16; };
    const MonotoneCurve curve(c.lightness);
    for (const Rgb& v : {Rgb{0.5, 0.5, 0.5}, Rgb{0.4, 0.3, 0.2}, Rgb{0.2, 0.5, 0.7}, Rgb{0.8, 0.7, 0.75}}) {
      const Rgb out = f(v), a = lin(v), b = lin(out);
      QVERIFY(std::abs(lstar(out) - 100 * curve(lstar(v) / 100)) < 1e-6);
      QVERIFY(std::abs(a[0] * b[1] - a[1] * b[0]) < 1e-9);
    }
    QVERIFY(!actsByChannel(c));
  }
  void tableOfColoursIsExactForWhatIsStraight() {
    // An affine table: tetrahedra hold it exactly, whatever its size.
    ColourTable t;
    t.side = 5;
    for (int b = 0; b < 5; ++b) {
      for (int g = 0; g < 5; ++g) {
        for (int r = 0; r < 5; ++r) {
          const double x = r / 4.0, y = g / 4.0, z = b / 4.0;
          for (const double v : {0.1 + 0.7 * x + 0.1 * z, 0.9 - 0.5 * y, 0.2 * x + 0.3 * y + 0.4 * z})
            t.values.push_back(float(v));
        }
      }
    }
    const auto shared = std::make_shared<const ColourTable>(t);
    QVERIFY(worstOf(TableLookup{shared}, [](const Rgb& c) {
              return Rgb{0.1 + 0.7 * c[0] + 0.1 * c[2], 0.9 - 0.5 * c[1], 0.2 * c[0] + 0.3 * c[1] + 0.4 * c[2]};
            }) < 1e-6);
    const ColourTable back = test::must(colourTableFromCube(cubeFrom(t)));
    QCOMPARE(back.side, 5);
    for (std::size_t i = 0; i < t.values.size(); ++i) QVERIFY(std::abs(back.values[i] - t.values[i]) < 1e-6f);
    for (const char* bad : {"", "LUT_3D_SIZE 1\n", "LUT_3D_SIZE 2\n0 0 0\n", "0 0 0\n", "LUT_3D_SIZE 2\nx y z\n",
                            "LUT_1D_SIZE 4\n", "LUT_3D_SIZE 2\nDOMAIN_MAX 2 2 2\n", "LUT_3D_SIZE 9999\n"})
      QVERIFY(!colourTableFromCube(bad).ok());
  }
  void allComeBackFromJson() {
    for (const AdjustmentKind& k : adjustmentKinds()) {
      ParametricAdjustment n = parametric(k.id);
      QVERIFY(validAdjustment(n).ok());
      for (std::size_t i = 0; i < n.values.size(); ++i)
        n.values[i] = k.fields[i].low + 0.25 * (k.fields[i].high - k.fields[i].low);
      QVERIFY(validAdjustment(n).ok());
      QVERIFY(test::must(adjustmentFromJson(toJson(n))) == Adjustment(n));
      n.values[0] = k.fields[0].high + 1;
      QVERIFY(!validAdjustment(n).ok());
    }
    const Adjustment t = TonesToColours{{{0, {0.1, 0.2, 0.3}}, {0.6, {0.2, 0.4, 0.5}}, {1, {1, 1, 1}}}};
    QVERIFY(test::must(adjustmentFromJson(toJson(t))) == t);
    QVERIFY(!adjustmentFromJson(nlohmann::json{{"gaussian", {{"no such", 1}}}}).ok());
  }
};

HSEAM_TEST(AdjustmentKindsTest);
#include "adjustment_kinds_test.moc"
