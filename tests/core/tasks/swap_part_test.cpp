#include "core/tasks/swap_part.h"

#include <cmath>

#include "core/render/renderer.h"
#include "core/render/scenes.h"
#include "truth/shown_place.h"

using namespace hseam;

namespace {

constexpr base::Size kShot{460, 380};
constexpr double kHeadX = 220, kHeadY = 180, kHeadR = 72;

// Where a head is, and whether its eyes are open.
struct Pose {
  double dx = 0, dy = 0, turnDeg = 0, scale = 1, stops = 0;
  bool open = true;
};

// A head of freckles before a wall; px of the head at rest.
double headAt(double x, double y, int c, bool open) {
  static const test::ShownPlace freckles(7, {500, 420});
  const double u = x - kHeadX, v = y - kHeadY;
  if (std::hypot(u, v) > kHeadR) return -1;
  for (const double side : {-26.0, 26.0}) {
    if (std::hypot((u - side) / 14, (v + 16) / (open ? 9 : 2.5)) < 1)
      return open ? (std::hypot(u - side, v + 16) < 5 ? 0.01 : 0.8) : 0.03;
  }
  return 0.15 + 0.55 * freckles.light(x, y, c);
}

image::TiledImage shot(const Pose& pose, std::uint64_t seed) {
  static const test::ShownPlace wall(3, kShot);
  const double a = pose.turnDeg * M_PI / 180, co = std::cos(a) / pose.scale, si = std::sin(a) / pose.scale;
  test::ShownPlace::Shot s;
  s.stops = pose.stops;
  s.before = [=](double x, double y, int c) {
    const double u = x - kHeadX - pose.dx, v = y - kHeadY - pose.dy;
    return headAt(kHeadX + co * u + si * v, kHeadY - si * u + co * v, c, pose.open);
  };
  return wall.frame(kShot, s, seed);
}

scene::Scene twoShots(const image::TiledImage& base, const image::TiledImage& other) {
  scene::Scene s = test::sceneOf(base);
  scene::Layer l = test::pictureLayer(2, other);
  l.hidden = true;
  return test::must(scene::apply(s, scene::AddLayer{l, {}, -1}));
}

image::TiledImage roundTheHead(double r) {
  return test::picture(kShot.width, kShot.height, 1,
                       [=](int x, int y, int) { return std::hypot(x + 0.5 - kHeadX, y + 0.5 - kHeadY) < r ? 255.0 : 0.0; });
}

// The mean difference of a scene from a shot about the head, encoded.
double offThe(const scene::Scene& s, const image::TiledImage& truth, double r0, double r1) {
  const auto shown = test::must(render::Renderer().render(s, base::Rect::of(kShot), 0, test::here()));
  const auto want = test::must(image::readFloat(truth, 0, base::Rect::of(kShot)));
  double sum = 0, n = 0;
  for (int y = 0; y < kShot.height; ++y) {
    for (int x = 0; x < kShot.width; ++x) {
      const double r = std::hypot(x + 0.5 - kHeadX, y + 0.5 - kHeadY);
      if (r < r0 || r >= r1) continue;
      for (int c = 0; c < 3; ++c) sum += std::abs(double(shown.at(x, y)[c]) - double(want.at(x, y)[c])), n += 1;
    }
  }
  return sum / n;
}

}  // namespace

class SwapPartTest : public QObject {
  Q_OBJECT
 private slots:
  void aHeadThatHasMovedComesToLieOnTheOther_data() {
    QTest::addColumn<double>("dx");
    QTest::addColumn<double>("dy");
    QTest::addColumn<double>("turn");
    QTest::addColumn<double>("scale");
    QTest::addColumn<double>("stops");
    QTest::newRow("as it was") << 0.0 << 0.0 << 0.0 << 1.0 << 0.0;
    QTest::newRow("aside") << 17.3 << -9.6 << 0.0 << 1.0 << 0.0;
    QTest::newRow("turned, nearer, lighter") << -12.4 << 6.8 << 7.0 << 1.08 << 0.5;
    QTest::newRow("turned back, further off, darker") << 8.2 << 11.1 << -11.0 << 0.9 << -0.7;
  }
  void aHeadThatHasMovedComesToLieOnTheOther() {
    QFETCH(double, dx);
    QFETCH(double, dy);
    QFETCH(double, turn);
    QFETCH(double, scale);
    QFETCH(double, stops);
    const auto closed = shot({.open = false}, 11), other = shot({dx, dy, turn, scale, stops, true}, 12), truth = shot({}, 13);
    const scene::Scene s = twoShots(closed, other);
    const auto made = test::must(tasks::swapPart(s, {1}, roundTheHead(56), {2}, {}, test::here(), {}));
    QVERIFY(made.aligned);
    // What undoes it, at the head's middle.
    const double a = turn * M_PI / 180, backX = -(std::cos(a) * dx + std::sin(a) * dy) / scale,
                 backY = -(std::cos(a) * dy - std::sin(a) * dx) / scale;
    QVERIFY2(std::hypot(made.moved.dx - backX, made.moved.dy - backY) < 0.3,
             qPrintable(QStringLiteral("%1 %2").arg(made.moved.dx).arg(made.moved.dy)));
    QVERIFY2(std::abs(made.moved.rotationDeg + turn) < 0.2, qPrintable(QString::number(made.moved.rotationDeg)));
    QVERIFY2(std::abs(made.moved.scale * scale - 1) < 0.004, qPrintable(QString::number(made.moved.scale)));
    QVERIFY2(made.toneAfter && *made.toneAfter < 1, qPrintable(QString::number(made.toneAfter.value_or(-1))));
    if (stops != 0) QVERIFY(*made.toneBefore > 4 && std::abs(made.gainStops - stops) < 0.05);
    const scene::Scene swapped = test::must(scene::apply(s, made.edit));
    QCOMPARE(swapped.layers.size(), std::size_t(3));
    QVERIFY(swapped.layers[0] == s.layers[0]);
    // Eyes open, and all else as it was.
    const double eyes = offThe(swapped, truth, 0, 50), before = offThe(s, truth, 0, 50);
    QVERIFY2(eyes < 0.012 && before > 2.5 * eyes, qPrintable(QStringLiteral("%1 of %2").arg(eyes).arg(before)));
    QVERIFY2(offThe(swapped, closed, 76, 200) < 1e-6, qPrintable(QString::number(offThe(swapped, closed, 76, 200))));
  }
  void adjustmentsConfinedToTheBaseAreRepeated() {
    scene::Scene s = twoShots(shot({.open = false}, 11), shot({.open = true}, 12));
    scene::Layer curve = test::adjustmentLayer(3, scene::Curves{{{0, 0.1}, {1, 0.8}}, {}, {}, {}});
    curve.clip = true;
    s = test::must(scene::apply(s, scene::AddLayer{curve, {}, 1}));
    const auto made = test::must(tasks::swapPart(s, {1}, roundTheHead(56), {2}, {}, test::here(), {}));
    QCOMPARE(made.adjustments, 1);
    const scene::Scene swapped = test::must(scene::apply(s, made.edit));
    QCOMPARE(swapped.layers.size(), std::size_t(5));
    QVERIFY(swapped.layers[2]->id == made.layer && swapped.layers[3]->clip && swapped.layers[3]->adjustment());
  }
  void whatCannotBeIsSaid() {
    const auto base = shot({}, 11);
    const scene::Scene s = twoShots(base, shot({}, 12));
    const auto code = [&](scene::LayerId of, const image::TiledImage& part, scene::LayerId from) {
      return tasks::swapPart(s, of, part, from, {}, test::here(), {}).error().code;
    };
    QCOMPARE(code({1}, roundTheHead(56), {1}), base::Code::invalid);
    QCOMPARE(code({1}, roundTheHead(56), {8}), base::Code::notFound);
    QCOMPARE(code({1}, roundTheHead(0), {2}), base::Code::invalid);
    QCOMPARE(code({1}, image::uniformCoverage({10, 10}, 255, test::memory()), {2}), base::Code::conflict);
    // Of an even wall nothing is recognised: it lies where it was placed.
    const auto even = test::picture(kShot.width, kShot.height, 3, [](int, int, int) { return 120.0; });
    const auto made = test::must(tasks::swapPart(twoShots(base, even), {1}, roundTheHead(56), {2}, {}, test::here(), {}));
    QVERIFY(!made.aligned && made.moved.scale == 1 && made.moved.dx == 0);
  }
};

HSEAM_TEST(SwapPartTest);
#include "swap_part_test.moc"
