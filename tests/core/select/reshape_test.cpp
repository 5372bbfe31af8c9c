#include "core/select/reshape.h"

#include "core/select/shape.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::select;

namespace {

image::TiledImage disc(double radius, double x = 300, double y = 200) {
  return test::must(combined(image::uniformCoverage({600, 400}, 0, test::memory()),
                             ellipseOutline({x - radius, y - radius}, {x + radius, y + radius}), Combine::replace, test::here()));
}

// Where the coverage passes one half to the right of (x, y), sub-pixel.
double edgeRightOf(const image::TiledImage& image, int x, int y) {
  const auto row = test::must(image::read8(image, 0, {x, y, 600 - x, 1}));
  for (int i = 1; i < row.width(); ++i) {
    const double a = *row.at(i - 1, 0), b = *row.at(i, 0);
    if (a >= 127.5 && b < 127.5) return x + i - 0.5 + (a - 127.5) / (a - b);
  }
  return -1;
}

}  // namespace

class ReshapeTest : public QObject {
  Q_OBJECT
 private slots:
  void widerAndTighterMoveTheEdgeByTheirPixels_data() {
    QTest::addColumn<double>("px");
    for (const double px : {-25.0, -3.4, -0.5, 0.5, 1.25, 7.3, 40.0}) QTest::addRow("%g", px) << px;
  }
  void widerAndTighterMoveTheEdgeByTheirPixels() {
    QFETCH(double, px);
    const auto out = test::must(widened(disc(100), px, test::here()));
    for (const int dy : {0, 37}) {
      const double before = 300 + std::sqrt(100.0 * 100 - (dy + 0.5) * (dy + 0.5)),
                   expected = 300 + std::sqrt((100 + px) * (100 + px) - (dy + 0.5) * (dy + 0.5));
      const double at = edgeRightOf(out, 300, 200 + dy);
      QVERIFY2(std::abs(at - expected) < 0.35,
               qPrintable(QStringLiteral("edge at %1, wanted %2, was %3").arg(at).arg(expected).arg(before)));
    }
  }
  void cornersComeOutRound() {
    const auto box = test::must(combined(image::uniformCoverage({600, 400}, 0, test::memory()),
                                         rectangleOutline({200, 100}, {400, 300}), Combine::replace, test::here()));
    const auto out = test::must(widened(box, 20, test::here()));
    const auto at = [&](int x, int y) { return int(*test::must(image::read8(out, 0, {x, y, 1, 1})).at(0, 0)); };
    QCOMPARE(at(215, 85), 255);  // straight side
    QCOMPARE(at(188, 88), 255);  // 17 px from the corner
    QCOMPARE(at(183, 83), 0);    // 24 px from the corner, though only 17 from each side
  }
  void nothingAndEverythingStayWhatTheyAre() {
    for (const std::uint8_t v : {0, 255}) {
      const auto flat = image::uniformCoverage({300, 300}, v, test::memory());
      QCOMPARE(test::must(widened(flat, 12, test::here())).stamp(), flat.stamp());
      QCOMPARE(test::must(softened(flat, 12, test::here())).stamp(), flat.stamp());
    }
  }
  void tooTightLeavesNothing() {
    const auto out = test::must(widened(disc(30), -40, test::here()));
    QCOMPARE(edgeRightOf(out, 200, 200), -1.0);
    QCOMPARE(int(*test::must(image::read8(out, 0, {300, 200, 1, 1})).at(0, 0)), 0);
  }
  void softeningIsAGaussian() {
    // A straight edge blurred with sigma s is the integral of a Gaussian.
    const auto half = test::must(combined(image::uniformCoverage({600, 400}, 0, test::memory()),
                                          rectangleOutline({-10, -10}, {300, 500}), Combine::replace, test::here()));
    for (const double sigma : {1.0, 4.0, 15.0}) {
      const auto out = test::must(softened(half, sigma, test::here()));
      const auto row = test::must(image::read8(out, 0, {0, 200, 600, 1}));
      for (int x = 240; x < 360; x += 3) {
        const double expected = 255 * 0.5 * std::erfc((x + 0.5 - 300) / (sigma * std::sqrt(2.0)));
        QVERIFY2(
            std::abs(*row.at(x, 0) - expected) < 2.5,
            qPrintable(QStringLiteral("sigma %1, x %2: %3, wanted %4").arg(sigma).arg(x).arg(int(*row.at(x, 0))).arg(expected)));
      }
    }
  }
  void roundingTakesCornersAndLeavesStraightEdges() {
    const auto square =
        test::picture(200, 200, 1, [](int x, int y, int) { return x >= 50 && x < 150 && y >= 50 && y < 150 ? 255 : 0; });
    const auto r = test::must(select::rounded(square, 20, test::here()));
    const auto at = [&](int x, int y) { return int(*test::must(image::read8(r, 0, {x, y, 1, 1})).at(0, 0)); };
    QCOMPARE(at(52, 100), 255);
    QCOMPARE(at(47, 100), 0);
    QVERIFY(at(51, 51) < 20);  // the corner
    QCOMPARE(at(60, 60), 255);
  }
  void ringsGapsAndIslands() {
    const auto at = [](const image::TiledImage& c, int x, int y) {
      return int(*test::must(image::read8(c, 0, {x, y, 1, 1})).at(0, 0));
    };
    const auto disc = test::picture(300, 300, 1, [](int x, int y, int) {
      return 255 * std::clamp(80.5 - std::hypot(x + 0.5 - 150, y + 0.5 - 150), 0.0, 1.0);
    });
    const auto ring = test::must(select::ring(disc, 10, test::here()));
    double area = 0;
    const auto px = test::must(image::read8(ring, 0, {0, 0, 300, 300}));
    for (const auto v : px.samples()) area += v / 255.0;
    QVERIFY2(std::abs(area / (2 * 3.14159265 * 80 * 10) - 1) < 0.02, qPrintable(QString::number(area)));
    QCOMPARE(at(ring, 150, 150), 0);
    // A slot of 6 px is closed by 8, and stays with 4; the outer edge stays where it was.
    const auto slotted = test::picture(300, 300, 1, [](int x, int y, int) {
      return x > 40 && x < 260 && y > 40 && y < 260 && !(x >= 147 && x < 153 && y < 200) ? 255 : 0;
    });
    const auto closed = test::must(select::gapsClosed(slotted, 8, test::here()));
    QVERIFY(at(closed, 150, 120) > 250);
    QCOMPARE(at(closed, 36, 150), 0);
    QVERIFY(at(test::must(select::gapsClosed(slotted, 4, test::here())), 150, 120) < 5);
    // Small islands go, the large part and its soft rim stay.
    const auto spotted = test::picture(300, 300, 1, [](int x, int y, int) {
      const double big = std::clamp((60 - std::hypot(x - 100.0, y - 150.0)) / 6 + 0.5, 0.0, 1.0);
      return 255 * std::max(big, std::hypot(x - 250.0, y - 60.0) < 4 ? 1.0 : 0.0);
    });
    const auto clean = test::must(select::withoutIslands(spotted, 100, test::here()));
    QCOMPARE(at(clean, 250, 60), 0);
    QCOMPARE(at(clean, 100, 150), 255);
    QCOMPARE(at(clean, 160, 150), at(spotted, 160, 150));
    QCOMPARE(at(test::must(select::withoutIslands(spotted, 30, test::here())), 250, 60), 255);
  }
};
HSEAM_TEST(ReshapeTest);
#include "reshape_test.moc"
