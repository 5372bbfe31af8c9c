#include "core/measure/lens_blur.h"

#include <QTest>
#include <cmath>
#include <limits>

#include "../../test_main.h"

using hseam::measure::blurDiameterPx;

class LensBlurTest : public QObject {
  Q_OBJECT
 private slots:
  // 50 mm at f/2, focused at 2 m, on a sensor of 36 mm with 6000 px: a star is 0.05² / (2 · 1.95) m = 0.641 mm = 106.8 px.
  void aStarIsAsLargeAsTheFormulaSays() {
    const hseam::measure::Lens lens{50, 2, 2, 6000 * 50 / 36.0};
    const double star = blurDiameterPx(lens, std::numeric_limits<double>::infinity()).value();
    QVERIFY2(std::abs(star - 106.84) < 0.01, qPrintable(QString::number(star)));
    // Twice as far away as the focus: half of that. At the focus: a point.
    QVERIFY(std::abs(blurDiameterPx(lens, 4).value() - star / 2) < 1e-9);
    QCOMPARE(blurDiameterPx(lens, 2).value(), 0.0);
    // Nearer by as much as to twice the size of the star's.
    QVERIFY(std::abs(blurDiameterPx(lens, 2 / 3.0).value() - 2 * star) < 1e-9);
    // Two stops down: half.
    QVERIFY(std::abs(blurDiameterPx({50, 4, 2, lens.focalPx}, 4).value() - star / 4) < 1e-9);
  }
  // Seen from the geometry of rays: the cone from the aperture to the image of a point, cut by the sensor.
  void itIsTheConeThatTheSensorCuts() {
    for (const double d : {0.8, 3.0, 7.0, 40.0}) {
      const double f = 0.085, s = 1.6, n = 1.8;
      const double imageOfFocus = f * s / (s - f), imageOfPoint = f * d / (d - f);
      const double diameter = f / n * std::abs(imageOfPoint - imageOfFocus) / imageOfPoint;
      const double px = blurDiameterPx({85, n, s, 1000}, d).value();
      QVERIFY2(std::abs(px - diameter / f * 1000) < 1e-6, qPrintable(QString::number(px)));
    }
  }
  void whatCannotBeIsNotTold() {
    QVERIFY(!blurDiameterPx({50, 2, 0.05, 8000}, 3));
    QVERIFY(!blurDiameterPx({50, 0, 2, 8000}, 3));
    QVERIFY(!blurDiameterPx({50, 2, 2, 8000}, 0));
  }
};

HSEAM_TEST(LensBlurTest);
#include "lens_blur_test.moc"
