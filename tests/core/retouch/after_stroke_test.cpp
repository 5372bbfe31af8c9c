#include "core/retouch/after_stroke.h"

#include <cmath>

#include "pictures.h"

using namespace hseam;

class AfterStrokeTest : public QObject {
  Q_OBJECT

  static double step(double inside, double slope) {
    image::Raster<float> shown(120, 100, 4, 1.f);
    image::Raster<std::uint8_t> coverage(120, 100, 1);
    test::Noise noise(3);
    for (int y = 0; y < 100; ++y) {
      for (int x = 0; x < 120; ++x) {
        const bool in = std::hypot(x - 60.0, y - 50.0) < 25;
        *coverage.at(x, y) = in ? 255 : 0;
        for (int c = 0; c < 3; ++c)
          shown.at(x, y)[c] = float(0.5 + slope * (x - 60) + (in ? inside : 0) + 0.06 * (noise.unit() - 0.5));
      }
    }
    return retouch::stepAtRim(shown, coverage, 4);
  }

 private slots:
  void aStepInToneIsReadWithItsSign() {
    // 0.05 of the encoded range about mid grey are 4.9 L*.
    QVERIFY2(std::abs(step(0.05, 0) - 4.9) < 0.7, qPrintable(QString::number(step(0.05, 0))));
    QVERIFY2(std::abs(step(-0.05, 0) + 4.9) < 0.7, qPrintable(QString::number(step(-0.05, 0))));
  }
  void noStepIsReadWhereToneGoesOn() {
    QVERIFY2(std::abs(step(0, 0)) < 0.6, qPrintable(QString::number(step(0, 0))));
    QVERIFY2(std::abs(step(0, 0.001)) < 1.2, qPrintable(QString::number(step(0, 0.001))));
    QCOMPARE(retouch::stepAtRim(image::Raster<float>(9, 9, 4, 0.5f), image::Raster<std::uint8_t>(9, 9, 1), 2), 0.0);
  }
  void theSameTextureTwiceIsTold() {
    const std::vector<retouch::Copied> earlier{{{0, 0, 40, 40}, {200, 0, 40, 40}}, {{100, 0, 40, 40}, {300, 0, 40, 40}}};
    // Most of the first one's place, laid down elsewhere.
    const auto again = retouch::repeatsOf({{5, 3, 40, 40}, {400, 100, 40, 40}}, earlier);
    QVERIFY(again.size() == 1 && again[0].to.x == 200);
    // A little of it, or over what was laid down before: it is seen once.
    QVERIFY(retouch::repeatsOf({{30, 30, 40, 40}, {400, 100, 40, 40}}, earlier).empty());
    QVERIFY(retouch::repeatsOf({{0, 0, 40, 40}, {205, 5, 40, 40}}, earlier).empty());
  }
};

HSEAM_TEST(AfterStrokeTest);
#include "after_stroke_test.moc"
