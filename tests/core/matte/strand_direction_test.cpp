#include "core/matte/strand_direction.h"

#include <QTest>
#include <cmath>

#include "pictures.h"
#include "test_main.h"

using namespace hseam;

class StrandDirectionTest : public QObject {
  Q_OBJECT
 private slots:
  void followsTheStrands() {
    for (const double degrees : {-70.0, -20.0, 0.0, 35.0, 80.0}) {
      const double t = degrees * M_PI / 180;
      const auto picture = test::picture(200, 200, 3, [&](int x, int y, int) {
        return 128 + 90 * std::sin((-std::sin(t) * x + std::cos(t) * y) * 0.9);  // waves of 7 px whose crests lie along t
      });
      const auto d = test::must(matte::strandDirection(picture, {100, 100}, 9));
      QVERIFY2(std::abs(std::remainder(d.angle - t, M_PI)) < 0.04,
               qPrintable(QString("%1: %2").arg(degrees).arg(d.angle * 180 / M_PI)));
      QVERIFY(d.coherence > 0.95);
    }
  }
  void noDirectionIsTold() {
    test::Noise noise(4);
    std::vector<int> tones;
    for (int i = 0; i < 200 * 200; ++i) tones.push_back(noise.below(255));
    const auto picture = test::picture(200, 200, 1, [&](int x, int y, int) { return double(tones[std::size_t(y * 200 + x)]); });
    QVERIFY(test::must(matte::strandDirection(picture, {100, 100}, 9)).coherence < 0.3);
    QCOMPARE(
        test::must(matte::strandDirection(test::picture(50, 50, 3, [](int, int, int) { return 90.0; }), {2, 2}, 9)).coherence,
        0.0);
  }
};

HSEAM_TEST(StrandDirectionTest);
#include "strand_direction_test.moc"
