#include "core/paint/stroke.h"

#include "pictures.h"

using namespace hseam;
using namespace hseam::paint;

namespace {

image::TiledImage black(int w = 600, int h = 400) {
  return image::uniformCoverage({w, h}, 0, test::memory());
}
int coverageAt(const image::TiledImage& i, int x, int y) {
  return int(*test::must(image::read8(i, 0, {x, y, 1, 1})).at(0, 0));
}

}  // namespace

class StrokeTest : public QObject {
  Q_OBJECT
 private slots:
  void aDabIsARoundSpotOfItsSize() {
    Stroke s(black(), {100, 1, 1}, Pressure::none, 255, false);
    test::must(s.to({{300, 200}, 1}, test::here()));
    QCOMPARE(coverageAt(s.image(), 300, 200), 255);
    QCOMPARE(coverageAt(s.image(), 300 + 48, 200), 255);
    QCOMPARE(coverageAt(s.image(), 300 + 51, 200), 0);
    QCOMPARE(coverageAt(s.image(), 300 + 37, 200 + 37), 0);  // the corner of its square
    double area = 0;
    const auto all = test::must(image::read8(s.image(), 0, {0, 0, 600, 400}));
    for (const auto v : all.samples()) area += v / 255.0;
    QVERIFY2(std::abs(area - M_PI * 2500) < 0.01 * M_PI * 2500, qPrintable(QString::number(area)));
  }
  void hardnessIsTheFullShare() {
    Stroke s(black(), {200, 0.5, 1}, Pressure::none, 255, false);
    test::must(s.to({{300, 200}, 1}, test::here()));
    QCOMPARE(coverageAt(s.image(), 300 + 49, 200), 255);
    const int half = coverageAt(s.image(), 300 + 75, 200);  // in the middle of the fall
    QVERIFY(half > 118 && half < 138);
    QVERIFY(coverageAt(s.image(), 300 + 97, 200) < 6);
    for (int x = 300; x < 400; ++x) QVERIFY(coverageAt(s.image(), x, 200) >= coverageAt(s.image(), x + 1, 200));
  }
  void fastStrokesHaveNoGaps() {
    Stroke s(black(), {10, 1, 1}, Pressure::none, 255, false);
    test::must(s.to({{20, 200}, 1}, test::here()));
    test::must(s.to({{560, 200}, 1}, test::here()));
    for (int x = 20; x < 560; ++x) QCOMPARE(coverageAt(s.image(), x, 200), 255);
  }
  void goingOverTwiceInOneStrokeDoesNotPileUp() {
    Stroke s(black(), {40, 0.5, 0.4}, Pressure::none, 255, false);
    for (const double x : {100.0, 400.0, 100.0, 400.0}) test::must(s.to({{x, 200}, 1}, test::here()));
    QCOMPARE(coverageAt(s.image(), 250, 200), 102);
    // A second stroke does.
    Stroke again(s.image(), {40, 0.5, 0.4}, Pressure::none, 255, false);
    test::must(again.to({{250, 200}, 1}, test::here()));
    QCOMPARE(coverageAt(again.image(), 250, 200), 102 + 61);
  }
  void hidingUndoesRevealing() {
    Stroke s(image::uniformCoverage({300, 300}, 255, test::memory()), {50, 1, 1}, Pressure::none, 0, false);
    test::must(s.to({{150, 150}, 1}, test::here()));
    QCOMPARE(coverageAt(s.image(), 150, 150), 0);
    QCOMPARE(coverageAt(s.image(), 10, 10), 255);
  }
  void pressureChangesSizeOrStrength() {
    Stroke size(black(), {100, 1, 1}, Pressure::size, 255, false);
    test::must(size.to({{300, 200}, 0.5}, test::here()));
    QCOMPARE(coverageAt(size.image(), 300 + 23, 200), 255);
    QCOMPARE(coverageAt(size.image(), 300 + 27, 200), 0);
    Stroke strength(black(), {100, 1, 1}, Pressure::strength, 255, false);
    test::must(strength.to({{300, 200}, 0.5}, test::here()));
    QCOMPARE(coverageAt(strength.image(), 300, 200), 128);
    QCOMPARE(coverageAt(strength.image(), 300 + 47, 200), 128);
    Stroke none(black(), {100, 1, 1}, Pressure::none, 255, false);
    test::must(none.to({{300, 200}, 0.2}, test::here()));
    QCOMPARE(coverageAt(none.image(), 300 + 47, 200), 255);
  }
  void labelsArePaintedWhole() {
    Stroke s(black(), {30, 0.1, 1}, Pressure::none, 128, true);
    test::must(s.to({{100, 100}, 1}, test::here()));
    const auto all = test::must(image::read8(s.image(), 0, {0, 0, 300, 300}));
    for (const auto v : all.samples()) QVERIFY(v == 0 || v == 128);
    QCOMPARE(coverageAt(s.image(), 110, 100), 128);
  }
  void onlyTouchedTilesAreNew() {
    const auto before = test::picture(1024, 768, 1, [](int x, int y, int) { return (x ^ y) & 255; });
    Stroke s(before, {20, 1, 1}, Pressure::none, 255, false);
    const auto changed = test::must(s.to({{300, 300}, 1}, test::here()));
    QVERIFY(changed.width <= 24 && changed.height <= 24);
    int shared = 0;
    for (int r = 0; r < 3; ++r) {
      for (int c = 0; c < 4; ++c) shared += s.image().level(0).tile(c, r) == before.level(0).tile(c, r);
    }
    QCOMPARE(shared, 11);
  }
  void strokesOutsideThePictureAreNothing() {
    Stroke s(black(), {50, 1, 1}, Pressure::none, 255, false);
    QVERIFY(test::must(s.to({{-500, -500}, 1}, test::here())).empty());
    test::must(s.to({{-500, 200}, 1}, test::here()));
    test::must(s.to({{5, 200}, 1}, test::here()));
    QCOMPARE(coverageAt(s.image(), 5, 200), 255);
  }
};
HSEAM_TEST(StrokeTest);
#include "stroke_test.moc"
