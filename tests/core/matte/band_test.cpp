#include "core/matte/band.h"

#include "core/image/lab.h"
#include "core/matte/ground.h"
#include "core/matte/trimap.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::matte;

namespace {

// Half selected: everything left of x = 300.
image::TiledImage leftHalf(double soft) {
  return test::picture(600, 400, 1, [=](int x, int, int) { return 255 * std::clamp((300 - x - 0.5) / soft + 0.5, 0.0, 1.0); });
}

}  // namespace

class BandTest : public QObject {
  Q_OBJECT
 private slots:
  void isAsWideAsAsked_data() {
    QTest::addColumn<double>("width");
    for (const double w : {2.0, 12.0, 40.0, 120.0}) QTest::addRow("%g px", w) << w;
  }
  void isAsWideAsAsked() {
    QFETCH(double, width);
    const auto band = test::must(makeBand(leftHalf(1), width, test::here(), {}));
    const auto row = test::must(image::read8(band, 0, {0, 200, 600, 1}));
    int undecided = 0;
    for (int x = 0; x < 600; ++x) {
      const Known k = knownOf(*row.at(x, 0));
      undecided += k == Known::undecided;
      if (x < 300 - width / 2 - 1) QCOMPARE(k, Known::subject);
      if (x > 300 + width / 2 + 1) QCOMPARE(k, Known::background);
    }
    QVERIFY2(std::abs(undecided - width) <= 1, qPrintable(QString::number(undecided)));
    QVERIFY(std::abs(test::must(undecidedShare(band)) - undecided / 600.0) < 1e-9);
  }
  void coversASoftEdgeWhole() {
    const auto band = test::must(makeBand(leftHalf(80), 4, test::here(), {}));
    const auto row = test::must(image::read8(band, 0, {0, 200, 600, 1}));
    for (int x = 264; x < 336; ++x) QCOMPARE(knownOf(*row.at(x, 0)), Known::undecided);
    QCOMPARE(knownOf(*row.at(255, 0)), Known::subject);
    QCOMPARE(knownOf(*row.at(345, 0)), Known::background);
  }
  void thinPartsKeepADecidedMiddleAndStrandsDoNot() {
    // A staff of 24 px and a strand of 6 px under a band of 40 px.
    const auto both =
        test::picture(600, 400, 1, [](int x, int, int) { return (x >= 100 && x < 124) || (x >= 300 && x < 306) ? 255 : 0; });
    const auto row = test::must(image::read8(test::must(makeBand(both, 40, test::here(), {})), 0, {0, 200, 600, 1}));
    QCOMPARE(knownOf(*row.at(112, 0)), Known::subject);
    int sure = 0;
    for (int x = 100; x < 124; ++x) sure += knownOf(*row.at(x, 0)) == Known::subject;
    QVERIFY2(sure >= 3 && sure <= 8, qPrintable(QString::number(sure)));
    QCOMPARE(knownOf(*row.at(101, 0)), Known::undecided);
    for (int x = 300; x < 306; ++x) QCOMPARE(knownOf(*row.at(x, 0)), Known::undecided);
  }
  void withoutAnEdgeThereIsNoBand() {
    for (const std::uint8_t v : {0, 255}) {
      const auto made = makeBand(image::uniformCoverage({300, 300}, v, test::memory()), 10, test::here(), {});
      QVERIFY(!made.ok());
      QCOMPARE(made.error().code, base::Code::invalid);
    }
  }
  void trimapValuesFollowTheCommandLine() {
    QCOMPARE(knownOf(85), Known::background);
    QCOMPARE(knownOf(86), Known::undecided);
    QCOMPARE(knownOf(170), Known::undecided);
    QCOMPARE(knownOf(171), Known::subject);
  }
};
HSEAM_TEST(BandTest);

class GroundTest : public QObject {
  Q_OBJECT
  static image::TiledImage flat(int r, int g, int b) {
    return test::picture(200, 200, 3, [=](int, int, int c) { return c == 0 ? r : (c == 1 ? g : b); });
  }
  static image::TiledImage softDisc() {
    return test::picture(200, 200, 1, [](int x, int y, int) {
      return 255 * std::clamp((60 - std::hypot(x - 100, y - 100)) / 12 + 0.5, 0.0, 1.0);
    });
  }

 private slots:
  void standsFarFromTheEdge_data() {
    QTest::addColumn<int>("r");
    QTest::addColumn<int>("g");
    QTest::addColumn<int>("b");
    QTest::newRow("white hair") << 240 << 238 << 232;
    QTest::newRow("black hair") << 18 << 16 << 15;
    QTest::newRow("green leaves") << 60 << 140 << 50;
    QTest::newRow("grey") << 128 << 128 << 128;
  }
  void standsFarFromTheEdge() {
    QFETCH(int, r);
    QFETCH(int, g);
    QFETCH(int, b);
    const auto ground = test::must(contrastingGround(flat(r, g, b), softDisc()));
    const double apart =
        image::deltaE2000(image::labFromEncoded(ground), image::labFromEncoded({r / 255.0, g / 255.0, b / 255.0}));
    QVERIFY2(apart > (r == 128 ? 36 : 50), qPrintable(QString::number(apart)));
  }
  void ofTwoEdgeColoursNeitherIsLost() {
    // Half the edge white, half black: a ground that is far from one alone would not do.
    const auto half = test::picture(200, 200, 3, [](int x, int, int) { return x < 100 ? 245 : 12; });
    const auto ground = test::must(contrastingGround(half, softDisc()));
    const auto lab = image::labFromEncoded(ground);
    QVERIFY(image::deltaE2000(lab, image::labFromEncoded({0.96, 0.96, 0.96})) > 35);
    QVERIFY(image::deltaE2000(lab, image::labFromEncoded({0.05, 0.05, 0.05})) > 35);
  }
  void withoutAnEdgeItIsGreen() {
    const auto ground = test::must(contrastingGround(flat(10, 20, 30), image::uniformCoverage({200, 200}, 255, test::memory())));
    QVERIFY(ground[1] > ground[0] + 0.2 && ground[1] > ground[2] + 0.2);
  }
};
HSEAM_TEST(GroundTest);
#include "band_test.moc"
