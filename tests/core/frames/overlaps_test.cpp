// Who stands before whom, and where a seam is seen.

#include "core/frames/overlaps.h"

#include "core/frames/montage.h"
#include "core/frames/seam_breaks.h"
#include "figures.h"

using namespace hseam;
using namespace hseam::test;

class OverlapsTest : public QObject {
  Q_OBJECT

  static int labelAt(const image::TiledImage& labels, double x, double y) {
    return *must(image::read8(labels, 0, {int(x), int(y), 1, 1})).at(0, 0);
  }
  static frames::Montage set(const std::vector<frames::Frame>& stack, const image::TiledImage& picks) {
    return must(frames::montage(stack, picks, frames::UnpickedOfBase::goes, here(), {}));
  }
  // The left half from one frame, the right one from another.
  static image::TiledImage halves(int left, int right) {
    return test::picture(kMontageSize.width, kMontageSize.height, 1,
                         [=](int x, int, int) { return x < kMontageSize.width / 2 ? left : right; });
  }

 private slots:
  void twoWhoStandAtOnePlaceAreFoundAndEitherComesToTheFront() {
    const ShownPlace place(5, kMontageSize);
    const Figure first{250, 220, 40, 95, 0.5}, second{300, 240, 40, 90, 0.1}, apart{540, 240, 28, 85, 0.3},
        other{100, 240, 28, 85, 0.7};
    const std::vector<frames::Frame> stack{{frameWith(place, {}, 1)},
                                           {frameWith(place, {first}, 2)},
                                           {frameWith(place, {second}, 3)},
                                           {frameWith(place, {apart}, 4)},
                                           {frameWith(place, {other}, 5)}};
    image::Raster<std::uint8_t> picks(kMontageSize.width, kMontageSize.height, 1);
    strokeThrough(picks, first, 2);
    strokeThrough(picks, second, 3);
    strokeThrough(picks, apart, 4);
    strokeThrough(picks, other, 5);
    const auto made = set(stack, picture(picks));
    const auto found = must(frames::overlapsOf(stack, made.labels, here()));
    QCOMPARE(found.size(), std::size_t(1));
    const frames::Overlap& o = found.front();
    QVERIFY((o.frames == std::vector<std::size_t>{1, 2}));
    QVERIFY(o.where.contains(275, 230));
    // The lens of both ellipses, and what their shadows add.
    double both = 0;
    for (int y = 0; y < kMontageSize.height; ++y) {
      for (int x = 0; x < kMontageSize.width; ++x) both += first.holds(x + 0.5, y + 0.5) && second.holds(x + 0.5, y + 0.5);
    }
    QVERIFY2(o.areaPx > 0.9 * both && o.areaPx < 2.5 * both, qPrintable(QString::number(o.areaPx / both)));
    // Whoever is asked for is in front afterwards, and the list says so.
    for (const std::size_t wanted : {std::size_t(1), std::size_t(2)}) {
      const auto asked = must(frames::broughtToFront(picture(picks), kMontageSize, o, wanted, memory(), here()));
      const auto then = set(stack, asked);
      QCOMPARE(labelAt(then.labels, 275, 230), int(wanted) + 1);
      QCOMPARE(must(frames::overlapsOf(stack, then.labels, here())).front().inFront, wanted);
    }
  }
  void ofTwoFramesNobodyKnows() {
    const ShownPlace place(5, kMontageSize);
    const Figure f{250, 220, 40, 95, 0.5};
    const std::vector<frames::Frame> two{{frameWith(place, {f}, 1)}, {frameWith(place, {f}, 2)}};
    QVERIFY(must(frames::overlapsOf(two, image::uniformCoverage(kMontageSize, 1, memory()), here())).empty());
  }
  void aSeamBetweenFramesThatLieOffEachOtherIsToldWithItsPx_data() {
    QTest::addColumn<double>("dx");
    QTest::addColumn<double>("dy");
    QTest::newRow("across") << 2.0 << 0.0;
    QTest::newRow("down") << 0.0 << 3.0;
    QTest::newRow("between pixels") << 1.5 << -0.8;
  }
  void aSeamBetweenFramesThatLieOffEachOtherIsToldWithItsPx() {
    QFETCH(double, dx);
    QFETCH(double, dy);
    const ShownPlace place(9, kMontageSize);
    const auto base = place.frame(kMontageSize, {}, 1);
    ShownPlace::Shot moved;
    moved.toBase.m = {1, 0, dx, 0, 1, dy, 0, 0, 1};
    const std::vector<frames::Frame> stack{{base}, {place.frame(kMontageSize, moved, 2)}};
    const auto found = must(frames::seamBreaks(stack, halves(1, 2), here(), {}));
    QVERIFY(!found.empty());
    for (const frames::SeamBreak& b : found) {
      QVERIFY(b.where.grown(10).contains(kMontageSize.width / 2, b.where.y + b.where.height / 2));
      if (b.px > 0) QVERIFY2(std::abs(b.px - std::hypot(dx, dy)) < 0.35, qPrintable(QString::number(b.px)));
    }
    QVERIFY(std::any_of(found.begin(), found.end(), [](const auto& b) { return b.px > 0; }));
  }
  void framesThatLieOnEachOtherMeetUnseen() {
    const ShownPlace place(9, kMontageSize);
    const std::vector<frames::Frame> stack{{place.frame(kMontageSize, {}, 1)}, {place.frame(kMontageSize, {}, 2)}};
    const auto found = must(frames::seamBreaks(stack, halves(1, 2), here(), {}));
    QVERIFY2(found.empty(), qPrintable(QString::number(found.size())));
  }
  void aThingThatIsCutThroughIsNoShift() {
    const ShownPlace place(9, kMontageSize);
    const Figure f{320, 220, 40, 95, 0.6};  // right on the seam
    const std::vector<frames::Frame> stack{{place.frame(kMontageSize, {}, 1)}, {frameWith(place, {f}, 2)}};
    const auto found = must(frames::seamBreaks(stack, halves(1, 2), here(), {}));
    QVERIFY(!found.empty());
    // Where its outline crosses the seam, at its head and its foot.
    for (const frames::SeamBreak& b : found)
      QVERIFY(b.px == 0 && b.where.x <= 320 && b.where.right() > 320 && b.where.y > 80 && b.where.bottom() < 360);
    QVERIFY(found.front().difference > 0.04);
  }
};

HSEAM_TEST(OverlapsTest);
#include "overlaps_test.moc"
