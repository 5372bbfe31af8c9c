#include "core/select/shape.h"

#include <numbers>

#include "pictures.h"

using namespace hseam;
using namespace hseam::select;

namespace {

double areaOf(const image::Raster<std::uint8_t>& r) {
  double sum = 0;
  for (const std::uint8_t v : r.samples()) sum += v / 255.0;
  return sum;
}

int valueAt(const image::TiledImage& image, int x, int y) {
  return int(*test::must(image::read8(image, 0, {x, y, 1, 1})).at(0, 0));
}

}  // namespace

class ShapeTest : public QObject {
  Q_OBJECT
 private slots:
  void rectangleCoversExactShares() {
    const auto r = rasterise(rectangleOutline({2.25, 1.5}, {5.5, 4}), {0, 0, 8, 6});
    QCOMPARE(int(*r.at(3, 2)), 255);
    QCOMPARE(int(*r.at(2, 2)), 191);  // three quarters of the column
    QCOMPARE(int(*r.at(5, 2)), 128);  // half of it
    QCOMPARE(int(*r.at(3, 1)), 128);  // half of the row
    QCOMPARE(int(*r.at(6, 2)), 0);
    QCOMPARE(int(*r.at(3, 4)), 0);
  }
  void ellipseHasItsArea() {
    const auto r = rasterise(ellipseOutline({10.3, 7.1}, {90.7, 57.4}), {0, 0, 100, 70});
    const double expected = std::numbers::pi * 40.2 * 25.15;
    QVERIFY2(std::abs(areaOf(r) - expected) < 0.002 * expected, qPrintable(QString::number(areaOf(r) / expected)));
  }
  void slantedEdgesAreAsLargeAsTheirArea() {
    // A triangle whose sides cut pixels at every angle: the sum of coverages is its area.
    const select::Outline triangle = {{3.2, 2.1}, {57.9, 21.3}, {19.4, 48.8}};
    const double expected = std::abs((57.9 - 3.2) * (48.8 - 2.1) - (19.4 - 3.2) * (21.3 - 2.1)) / 2;
    QVERIFY(std::abs(areaOf(rasterise(triangle, {0, 0, 64, 64})) - expected) < 0.5);
  }
  void overlapsOfOneOutlineStayInside() {
    // A star drawn in one go: its middle is wound twice and must not become a hole.
    select::Outline star;
    for (int i = 0; i < 5; ++i) {
      const double a = 2 * std::numbers::pi * i * 2 / 5 - std::numbers::pi / 2;
      star.push_back({50 + 40 * std::cos(a), 50 + 40 * std::sin(a)});
    }
    QCOMPARE(int(*rasterise(star, {0, 0, 100, 100}).at(50, 50)), 255);
  }
  void outlinesMayLeaveThePicture() {
    const auto base = image::uniformCoverage({50, 40}, 0, test::memory());
    const auto all = test::must(combined(base, rectangleOutline({-30, -30}, {90, 90}), Combine::replace, test::here()));
    QCOMPARE(valueAt(all, 0, 0), 255);
    QCOMPARE(valueAt(all, 49, 39), 255);
    const auto none = test::must(combined(base, rectangleOutline({-30, -30}, {-5, -5}), Combine::add, test::here()));
    QCOMPARE(none.stamp(), base.stamp());
    QCOMPARE(valueAt(test::must(combined(all, select::Outline{{1, 1}, {2, 2}}, Combine::replace, test::here())), 5, 5),
             0);  // two points hold nothing
  }
  void combiningFollowsItsWords() {
    const auto base = test::must(combined(image::uniformCoverage({600, 300}, 0, test::memory()),
                                          rectangleOutline({0, 0}, {300, 300}), Combine::replace, test::here()));
    const select::Outline right = rectangleOutline({200, 100}, {500, 200});
    const struct {
      Combine how;
      int left, both, onlyNew;
    } cases[] = {{Combine::replace, 0, 255, 255},
                 {Combine::add, 255, 255, 255},
                 {Combine::takeAway, 255, 0, 0},
                 {Combine::overlap, 0, 255, 0}};
    for (const auto& c : cases) {
      const auto out = test::must(combined(base, right, c.how, test::here()));
      QCOMPARE(valueAt(out, 50, 150), c.left);
      QCOMPARE(valueAt(out, 250, 150), c.both);
      QCOMPARE(valueAt(out, 400, 150), c.onlyNew);
    }
  }
  void softEdgesCombineByValue() {
    // Half-covered pixels: add keeps the larger, take away leaves the smaller of it and the rest.
    const auto half = image::uniformCoverage({20, 20}, 100, test::memory());
    const image::Raster<std::uint8_t> part(20, 20, 1, 180);
    QCOMPARE(valueAt(test::must(combined(half, {0, 0, 20, 20}, part, Combine::add, test::here())), 3, 3), 180);
    QCOMPARE(valueAt(test::must(combined(half, {0, 0, 20, 20}, part, Combine::takeAway, test::here())), 3, 3), 75);
    QCOMPARE(valueAt(test::must(combined(half, {0, 0, 20, 20}, part, Combine::overlap, test::here())), 3, 3), 100);
  }
  void invertingTwiceGivesTheSame() {
    const auto base = test::picture(530, 270, 1, [](int x, int y, int) { return (x * 3 + y * 7) % 256; });
    const auto once = test::must(inverted(base, test::here()));
    QCOMPARE(valueAt(once, 400, 200), 255 - valueAt(base, 400, 200));
    const auto twice = test::must(inverted(once, test::here()));
    QVERIFY(image::differenceOf(base, twice).empty());
    QVERIFY(!image::differenceOf(base, once).empty());
  }
};
HSEAM_TEST(ShapeTest);
#include "shape_test.moc"
