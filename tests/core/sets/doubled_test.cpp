#include "core/sets/doubled.h"

#include "test_main.h"
#include "truth/shown_place.h"

using namespace hseam;

class DoubledTest : public QObject {
  Q_OBJECT

  static scene::FrameSet two(double dx) {
    const test::ShownPlace place(4, {300, 200});
    test::ShownPlace::Shot moved;
    moved.toBase.m = {1, 0, dx, 0, 1, 0, 0, 0, 1};
    moved.noise = 0;
    scene::FrameSet set;
    set.frames.push_back({"a", place.frame({300, 200}, {.noise = 0}, 1)});
    set.frames.push_back({"b", place.frame({300, 200}, moved, 2)});
    return set;
  }
  // How far red and blue lie apart.
  static double colour(const scene::FrameSet& set) {
    const auto seen = test::must(sets::doubled(set, 1, 1e6));
    double sum = 0;
    for (int y = 20; y < 180; ++y) {
      for (int x = 20; x < 280; ++x) sum += std::abs(int(seen.at(x, y)[0]) - int(seen.at(x, y)[2]));
    }
    return sum / (160 * 260);
  }

 private slots:
  void whatLiesOnEachOtherIsGreyAndANudgeBringsItThere() {
    QVERIFY(colour(two(0)) < 1.5);
    const scene::FrameSet off = two(3);
    QVERIFY2(colour(off) > 4, qPrintable(QString::number(colour(off))));
    // The frame's px x lies at x + 3 of the place.
    const scene::FrameSet mended = test::must(sets::nudged(off, 1, 3, 0));
    QVERIFY2(colour(mended) < 1.5, qPrintable(QString::number(colour(mended))));
    QVERIFY(mended.frames[1].used);
  }
  void aNudgeMovesWhateverTheMapIs() {
    scene::FrameSet set = two(0);
    set.frames[1].toBase = {1.01, 0.02, 5, -0.01, 0.99, 3, 1e-5, 2e-5, 1};
    const scene::FrameSet then = test::must(sets::nudged(set, 1, 1.5, -2));
    const base::Point before = frames::Homography{set.frames[1].toBase}.map({120, 80}),
                      after = frames::Homography{then.frames[1].toBase}.map({120, 80});
    QVERIFY(std::abs(after.x - before.x - 1.5) < 1e-9 && std::abs(after.y - before.y + 2) < 1e-9);
    QVERIFY(!sets::nudged(set, 0, 1, 1).ok() && !sets::nudged(set, 2, 1, 1).ok() && !sets::doubled(set, 0, 1e6).ok());
  }
};

HSEAM_TEST(DoubledTest);
#include "doubled_test.moc"
