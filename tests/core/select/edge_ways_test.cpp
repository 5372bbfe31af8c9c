#include "core/select/edge_ways.h"

#include <cmath>

#include "pictures.h"

using namespace hseam;
using namespace hseam::select;

namespace {

constexpr double kMiddle = 300, kRadius = 150;

// A disc on an uneven, grainy ground.
image::TiledImage discOn(int side = 600) {
  test::Noise noise(5);
  return test::picture(side, side, 3, [&](int x, int y, int c) {
    const double d = std::hypot(x + 0.5 - kMiddle, y + 0.5 - kMiddle);
    const double in = std::clamp(kRadius - d + 0.5, 0.0, 1.0);
    const double ground = 90 + 20 * std::sin(x / 40.0) + (c == 2 ? 25 : 0), subject = 165 - 25 * c + 12 * std::sin(y / 23.0);
    return in * subject + (1 - in) * ground + 6 * (noise.unit() - 0.5);
  });
}
base::Point onDisc(double angle, double off = 0) {
  return {kMiddle + (kRadius + off) * std::cos(angle), kMiddle + (kRadius + off) * std::sin(angle)};
}

}  // namespace

class EdgeWaysTest : public QObject {
  Q_OBJECT
 private slots:
  void aWayKeepsToTheEdge_data() {
    QTest::addColumn<int>("level");
    QTest::addColumn<double>("worst");
    QTest::newRow("every pixel") << 0 << 2.0;
    QTest::newRow("halved") << 1 << 4.0;
  }
  void aWayKeepsToTheEdge() {
    QFETCH(int, level);
    QFETCH(double, worst);
    const auto ways = test::must(edgeWays(discOn(), onDisc(0.1), level, {}));
    // A third of the turn, though the pointer ends three px beside the edge; the straight way would leave it by 37 px.
    const base::Point target = onDisc(0.1 + 2.1, 3);
    const auto way = ways.to(target);
    QCOMPARE(way.front().x, onDisc(0.1).x);
    QCOMPARE(way.back().x, target.x);
    double far = 0, length = 0;
    for (std::size_t i = 1; i < way.size(); ++i) {
      length += std::hypot(way[i].x - way[i - 1].x, way[i].y - way[i - 1].y);
      if (i > 8 && i + 8 < way.size())
        far = std::max(far, std::abs(std::hypot(way[i].x - kMiddle, way[i].y - kMiddle) - kRadius));
    }
    QVERIFY2(far < worst, qPrintable(QString::number(far)));
    // Pixel steps make a curve up to 1.09 times as long.
    QVERIFY2(length > 2.0 * kRadius && length < 2.1 * kRadius * 1.12, qPrintable(QString::number(length)));
  }
  void beyondItsReachAWayEndsStraight() {
    const auto picture = test::picture(1600, 200, 3, [](int x, int y, int) { return (x / 7 + y / 5) % 2 * 90 + 60; });
    const auto ways = test::must(edgeWays(picture, {20, 100}, 0, {}));
    QCOMPARE(ways.area().right(), 471);
    const auto way = ways.to({1500, 100});
    QCOMPARE(way.back().x, 1500.0);
    QVERIFY(way.size() > 400);
  }
  void placesOutsideThePictureAreRefused() {
    QCOMPARE(edgeWays(discOn(), {-3, 20}, 0, {}).error().code, base::Code::invalid);
    QCOMPARE(edgeWays(discOn(), {10, 600}, 2, {}).error().code, base::Code::invalid);
  }
  void greyAndStopped() {
    const auto grey = test::picture(80, 60, 1, [](int x, int, int) { return x < 40 ? 50 : 200; });
    const auto way = test::must(edgeWays(grey, {40, 2}, 0, {})).to({40, 57});
    for (const base::Point& p : way) QVERIFY(std::abs(p.x - 40) <= 2);
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(edgeWays(grey, {40, 2}, 0, base::Progress(stop.get_token())).error().code, base::Code::cancelled);
  }
};
HSEAM_TEST(EdgeWaysTest);
#include "edge_ways_test.moc"
