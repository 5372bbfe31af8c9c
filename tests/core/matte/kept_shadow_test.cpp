// A shadow laid on paper by formula, taken off again.

#include "core/matte/kept_shadow.h"

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/matte/standing.h"
#include "pictures.h"

using namespace hseam;

namespace {

constexpr int kShadowW = 900, kShadowH = 640;

// The share of light that the shadow leaves: a soft, flat ellipse beside the subject's foot.
double shadowAt(double x, double y, int c) {
  const double d = std::hypot((x - 520) / 170, (y - 470) / 46);
  constexpr double kDepth[3] = {0.62, 0.58, 0.52};  // bluish
  return 1 - kDepth[c] * std::exp(-d * d);
}
double subjectAt(double x, double y) {
  return std::clamp(90.5 - std::hypot(x - 420, (y - 380) * 0.9), 0.0, 1.0);
}
// Warm paper whose light falls off to the right and down.
double paperAt(double x, double y, int c) {
  constexpr double kLight[3] = {0.80, 0.77, 0.70};
  const double u = x / kShadowW, v = y / kShadowH;
  return kLight[c] * (1 - 0.22 * u - 0.10 * v * v + 0.05 * u * v);
}

image::TiledImage picture(double grain) {
  test::Noise noise(3);
  return test::picture(kShadowW, kShadowH, 3, [&](int x, int y, int c) {
    const double a = subjectAt(x + 0.5, y + 0.5),
                 light = (1 - a) * paperAt(x + 0.5, y + 0.5, c) * shadowAt(x + 0.5, y + 0.5, c) + a * 0.03;
    double n = 0;
    for (int i = 0; i < 4; ++i) n += noise.unit() - 0.5;
    return 255 * image::encodedFromLinear(light) + grain * 1.73 * n;
  });
}
image::TiledImage alpha() {
  return test::picture(kShadowW, kShadowH, 1, [](int x, int y, int) { return 255 * subjectAt(x + 0.5, y + 0.5); });
}

double lightnessOf(const double* ratio) {
  return image::labFromEncoded(
             {image::encodedFromLinear(ratio[0]), image::encodedFromLinear(ratio[1]), image::encodedFromLinear(ratio[2])})
      .l;
}

}  // namespace

class KeptShadowTest : public QObject {
  Q_OBJECT
 private slots:
  void paperBecomesWhiteAndTheShadowKeepsItsDepth_data() {
    QTest::addColumn<double>("grain");
    QTest::addRow("clean") << 0.4;
    QTest::addRow("grainy") << 3.0;
  }
  void paperBecomesWhiteAndTheShadowKeepsItsDepth() {
    QFETCH(double, grain);
    const auto kept = test::must(matte::keptShadow(picture(grain), alpha(), test::here(), {}));
    QVERIFY2(kept.veil < 0.3, qPrintable(QString::number(kept.veil)));
    QVERIFY(std::abs(kept.unevenness - 12) < 5);
    const auto p = test::must(image::read8(kept.picture, 0, {0, 0, kShadowW, kShadowH}));
    double worst = 0, white = 0, mean = 0;
    int n = 0, papers = 0;
    for (int y = 60; y < kShadowH - 60; y += 3) {
      for (int x = 60; x < kShadowW - 60; x += 3) {
        if (subjectAt(x, y) > 0 || std::hypot(x - 420, (y - 380) * 0.9) < 100) continue;
        const double ratio[3] = {shadowAt(x + 0.5, y + 0.5, 0), shadowAt(x + 0.5, y + 0.5, 1), shadowAt(x + 0.5, y + 0.5, 2)};
        const double truth = lightnessOf(ratio),
                     got = image::labFromEncoded({p.at(x, y)[0] / 255.0, p.at(x, y)[1] / 255.0, p.at(x, y)[2] / 255.0}).l;
        if (truth > 99.8) {
          white += 100 - got, ++papers;
        } else if (truth < 92) {
          worst = std::max(worst, std::abs(got - truth));
          mean += std::abs(got - truth), ++n;
        }
      }
    }
    QVERIFY(n > 500 && papers > 5000);
    QVERIFY2(white / papers < 0.3, qPrintable(QString::number(white / papers)));
    QVERIFY2(mean / n < (grain < 1 ? 0.35 : 0.7), qPrintable(QString::number(mean / n)));
    QVERIFY2(worst < (grain < 1 ? 1.0 : 3.0), qPrintable(QString::number(worst)));
    // The tint stays: blue loses least… most of the light, as it was.
    QVERIFY(p.at(560, 480)[0] < p.at(560, 480)[2]);
  }
  void nothingOfTheSubjectIsLeft() {
    const auto kept = test::must(matte::keptShadow(picture(0.4), alpha(), test::here(), {}));
    const auto p = test::must(image::read8(kept.picture, 0, {0, 0, kShadowW, kShadowH}));
    // Where the subject was, shadow goes on smoothly: far from the subject's own black.
    for (const auto& [x, y] : {std::pair(420, 330), {420, 380}, {380, 300}})
      QVERIFY2(p.at(x, y)[1] > 170, qPrintable(QString::number(p.at(x, y)[1])));
    // The border is white.
    for (int x = 0; x < kShadowW; x += 30) QVERIFY(p.at(x, 0)[0] == 255 && p.at(x, kShadowH - 1)[2] == 255);
  }
  void noPaperIsSaid() {
    const auto pebbles = test::picture(kShadowW, kShadowH, 3, [](int x, int y, int c) {
      const int stone = (x / 23 * 7919 + y / 19 * 104729) % 97;
      return 30 + stone * 2 + 10 * c;
    });
    const auto none = matte::keptShadow(pebbles, alpha(), test::here(), {});
    QVERIFY(!none.ok());
    QCOMPARE(none.error().code, base::Code::invalid);
  }
  void whereASubjectStands() {
    const auto two = test::picture(400, 300, 1, [](int x, int y, int) {
      const bool body = x >= 100 && x < 300 && y >= 40 && y < 200,
                 legs = y >= 200 && y < 260 && ((x >= 120 && x < 150) || (x >= 240 && x < 270));
      return body || legs ? 255 : 0;
    });
    const auto s = *test::must(matte::standingOf(two));
    QVERIFY(s.covered == (base::Rect{100, 40, 200, 220}));
    QVERIFY(std::abs(s.foot.x - 195) < 1 && s.foot.y == 260);
    QVERIFY(s.line.front().x >= 120 && s.line.back().x <= 270 && s.line.size() >= 10);
    QVERIFY(!test::must(matte::standingOf(test::picture(60, 60, 1, [](int, int, int) { return 0; }))));
  }
};

HSEAM_TEST(KeptShadowTest);
#include "kept_shadow_test.moc"
