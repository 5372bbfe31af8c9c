#include "core/select/colour_reach.h"

#include <QTest>
#include <cmath>

#include "core/image/lab.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::select;

class ColourReachTest : public QObject {
  Q_OBJECT
  static int at(const image::TiledImage& c, int x, int y) { return int(*test::must(image::read8(c, 0, {x, y, 1, 1})).at(0, 0)); }
  // Every colour of a coarse cube, each one a pixel.
  static image::TiledImage cube() {
    return test::picture(289, 17, 3,
                         [](int x, int y, int c) { return c == 0 ? x % 17 * 15.9 : (c == 1 ? x / 17 * 15.9 : y * 15.9); });
  }

 private slots:
  void reachIsMeasuredInCiede2000() {
    const auto picture = cube();
    const std::array<double, 3> sample{0.55, 0.3, 0.25};
    const ColourReach o{{sample}, 15, 10, {}, false};
    const auto chosen = test::must(chosenByColour(picture, o, test::here(), {}));
    const auto px = test::must(image::read8(picture, 0, {0, 0, 289, 17}));
    const image::Lab wanted = image::labFromEncoded(sample);
    int whole = 0, part = 0;
    for (int y = 0; y < 17; ++y) {
      for (int x = 0; x < 289; ++x) {
        const auto* p = px.at(x, y);
        const double d = image::deltaE2000(image::labFromEncoded({p[0] / 255.0, p[1] / 255.0, p[2] / 255.0}), wanted);
        const double t = std::clamp((d - 15) / 10, 0.0, 1.0), truth = 255 * (1 - t * t * (3 - 2 * t));
        // Half a unit of difference is worth at most 1.5/10 · 0.5 of the way.
        QVERIFY2(std::abs(at(chosen, x, y) - truth) <= 0.075 * 255 + 1,
                 qPrintable(QStringLiteral("%1 %2").arg(d).arg(at(chosen, x, y))));
        whole += truth > 254;
        part += truth > 0 && truth < 255;
      }
    }
    QVERIFY(whole > 20 && part > 40);
  }
  void severalSamplesAndTheirOpposite() {
    const auto picture = test::picture(
        90, 30, 3, [](int x, int, int c) { return x < 30 ? (c == 0 ? 220 : 30) : (x < 60 ? (c == 1 ? 200 : 40) : 120); });
    ColourReach o;
    o.samples = {test::must(colourAround(picture, {10, 10}, 2)), test::must(colourAround(picture, {40, 10}, 2))};
    const auto both = test::must(chosenByColour(picture, o, test::here(), {}));
    QCOMPARE(at(both, 10, 10), 255);
    QCOMPARE(at(both, 45, 10), 255);
    QCOMPARE(at(both, 75, 10), 0);
    o.inverted = true;
    QCOMPARE(at(test::must(chosenByColour(picture, o, test::here(), {})), 75, 10), 255);
    QVERIFY(!chosenByColour(picture, {}, test::here(), {}).ok());
    QVERIFY(!colourAround(picture, {500, 10}, 2).ok());
  }
  void joinedRegionsStopWhereTheColourStops() {
    // Two islands of one colour, over several tiles; a bridge that is too thin a match does not join them.
    const auto picture = test::picture(700, 300, 3, [](int x, int y, int) {
      const bool left = x<300, right = x> 340, bridge = std::abs(y - 150) < 4;
      return left || right ? 200 : (bridge ? 140 : 40);
    });
    ColourReach o{{{200 / 255.0, 200 / 255.0, 200 / 255.0}}, 4, 20, {{10, 10}}, false};
    const auto chosen = test::must(chosenByColour(picture, o, test::here(), {}));
    QCOMPARE(at(chosen, 100, 100), 255);
    QCOMPARE(at(chosen, 600, 100), 0);
    QVERIFY(at(chosen, 301, 150) > 0 && at(chosen, 301, 150) < 255);  // its soft rim
    QCOMPARE(at(chosen, 330, 150), 0);
    o.joinedTo.clear();
    QCOMPARE(at(test::must(chosenByColour(picture, o, test::here(), {})), 600, 100), 255);
  }
};
HSEAM_TEST(ColourReachTest);
#include "colour_reach_test.moc"
