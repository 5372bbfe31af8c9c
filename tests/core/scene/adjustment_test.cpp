#include "core/scene/adjustment.h"

#include "core/scene/placement.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::scene;

class AdjustmentTest : public QObject {
  Q_OBJECT
  static double through(const CurvePoints& p, double x) { return MonotoneCurve(p)(x); }

 private slots:
  void curvesPassThroughTheirPointsAndNeverTurnBack() {
    const CurvePoints p = {{0, 0.05}, {0.2, 0.06}, {0.25, 0.5}, {0.6, 0.52}, {1, 1}};
    for (const auto& [x, y] : p) QVERIFY(std::abs(through(p, x) - y) < 1e-12);
    double last = -1;
    for (double x = 0; x <= 1; x += 0.001) {
      QVERIFY(through(p, x) >= last - 1e-12);
      last = through(p, x);
    }
  }
  void curvesAreConstantOutsideAndStraightThroughTwo() {
    QCOMPARE(through({{0.2, 0.3}, {0.8, 0.6}}, 0.1), 0.3);
    QCOMPARE(through({{0.2, 0.3}, {0.8, 0.6}}, 0.9), 0.6);
    QVERIFY(std::abs(through({{0.2, 0.3}, {0.8, 0.6}}, 0.5) - 0.45) < 1e-12);
    QCOMPARE(through({}, 0.37), 0.37);
    QCOMPARE(through({{0.5, 0.2}}, 0.9), 0.2);
  }
  void curvesFollowThePublishedExample() {
    // Fritsch & Carlson 1980: slopes by their limit on the circle of radius 3. Points (0,0) (0.5,0.1) (1,1): secants 0.2
    // and 1.8; slopes 0.2, 1 → a = 1, b = 5 on the left, cut to 3 / √26 of each.
    const double m1 = 3 / std::sqrt(26.0) * 5 * 0.2, m0 = 3 / std::sqrt(26.0) * 0.2;
    const double h = 0.5, t = 0.5;
    const double expected =
        0.1 * (3 * t * t - 2 * t * t * t) + h * m0 * (t * t * t - 2 * t * t + t) + h * m1 * (t * t * t - t * t);
    QVERIFY(std::abs(through({{0, 0}, {0.5, 0.1}, {1, 1}}, 0.25) - expected) < 1e-12);
  }
  void levelsFollowTheirFormula() {
    const AdjustmentFunction f(Levels{0.2, 0.8, 2, 0.1, 0.9});
    QVERIFY(std::abs(f({0.2, 0, 1})[0] - 0.1) < 1e-12);
    QVERIFY(std::abs(f({0.2, 0, 1})[1] - 0.1) < 1e-12);
    QVERIFY(std::abs(f({0.2, 0, 1})[2] - 0.9) < 1e-12);
    QVERIFY(std::abs(f({0.5, 0, 0})[0] - (0.1 + 0.8 * std::sqrt(0.5))) < 1e-12);
  }
  void rgbCurveComesBeforeTheChannels() {
    const AdjustmentFunction f(Curves{{{0, 0.2}, {1, 0.6}}, {{0, 0}, {1, 0.5}}, {}, {}});
    const auto out = f({0.5, 0.5, 0.5});
    QVERIFY(std::abs(out[0] - 0.2) < 1e-12 && std::abs(out[1] - 0.4) < 1e-12);
  }
  void balanceKeepsLightnessAndActsByTone() {
    const AdjustmentFunction f(ColourBalance{{}, {}, {1, 0}});
    for (const double v : {0.1, 0.4, 0.7, 0.9}) {
      const auto out = f({v, v, v});
      QVERIFY(std::abs(luma(out) - v) < 1e-9);
      QVERIFY(out[0] >= out[2] && out[1] <= out[2]);
    }
    // Lights react more than darks.
    QVERIFY(f({0.8, 0.8, 0.8})[0] - 0.8 > 5 * (f({0.2, 0.2, 0.2})[0] - 0.2));
    // Towards yellow takes blue and gives red and green.
    const auto y = AdjustmentFunction(ColourBalance{{}, {0, 1}, {}})({0.5, 0.5, 0.5});
    QVERIFY(std::abs(y[2] - (0.5 - 0.5 * 0.25)) < 1e-12 && y[0] > 0.5 && std::abs(y[0] - y[1]) < 1e-12);
  }
  void balanceStaysWithinTheRange() {
    const AdjustmentFunction f(ColourBalance{{-1, 1}, {1, -1}, {1, 1}});
    for (int i = 0; i < 1000; ++i) {
      const auto out = f({i % 10 / 9.0, i / 10 % 10 / 9.0, i / 100 / 9.0});
      for (const double v : out) QVERIFY(v >= -1e-12 && v <= 1 + 1e-12);
    }
  }
  void placementsTurnClockwiseAboutTheCentre() {
    // 90°: the right end of a picture of 40 × 20 px, twice as large, points down.
    const Placement p{100, 50, 2, 90, false, false};
    const base::Point right = p.toScene({40, 20}).map({40, 10}), centre = p.toScene({40, 20}).map({20, 10});
    QVERIFY(std::abs(centre.x - 140) < 1e-9 && std::abs(centre.y - 70) < 1e-9);
    QVERIFY(std::abs(right.x - 140) < 1e-9 && std::abs(right.y - 110) < 1e-9);
    const base::Point flipped = Placement{0, 0, 1, 0, true, false}.toScene({40, 20}).map({0, 5});
    QVERIFY(std::abs(flipped.x - 40) < 1e-9 && std::abs(flipped.y - 5) < 1e-9);
  }
};
HSEAM_TEST(AdjustmentTest);
#include "adjustment_test.moc"
