#include "core/matte/edge_path.h"

#include <QTest>
#include <cmath>

#include "core/matte/edge_fit.h"
#include "core/path/cover.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;

namespace {

// A figure of capsules: head, body, arms held out, legs apart. Distance outwards of its edge.
double figure(double x, double y) {
  struct Capsule {
    double ax, ay, bx, by, r;
  };
  constexpr Capsule kParts[] = {{300, 90, 300, 100, 42},  {300, 190, 300, 330, 62}, {262, 170, 140, 260, 20},
                                {338, 170, 465, 120, 20}, {275, 370, 225, 560, 27}, {325, 370, 375, 560, 27},
                                {225, 565, 195, 572, 18}, {375, 565, 405, 572, 18}, {300, 120, 300, 150, 22}};
  double nearest = 1e9;
  for (const Capsule& c : kParts) {
    const double dx = c.bx - c.ax, dy = c.by - c.ay,
                 t = std::clamp(((x - c.ax) * dx + (y - c.ay) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    nearest = std::min(nearest, std::hypot(x - c.ax - t * dx, y - c.ay - t * dy) - c.r);
  }
  return nearest;
}

constexpr int kWidth = 600, kHeight = 640;

// Cloth before a wall, each with its own pattern and grain, seen through a lens of 0.9 px.
image::TiledImage figureBeforeWall() {
  test::Noise noise(7);
  return test::picture(kWidth, kHeight, 3, [&](int x, int y, int c) {
    const double a = matte::coverageAcross(figure(x + 0.5, y + 0.5), 0, 0.9);
    const double in[] = {150, 60, 50}, out[] = {120, 135, 150};
    const double cloth = 12 * std::sin(x * 0.9) * std::sin(y * 0.5), wall = 9 * std::sin(x * 0.31 + y * 0.17);
    return a * (in[c] + cloth) + (1 - a) * (out[c] + wall) + 5 * (noise.unit() - 0.5);
  });
}

// As a guess gives it: whole pixels, up to 3 px off, with the wiggle of a texture that it followed.
image::TiledImage roughFigure() {
  return test::picture(kWidth, kHeight, 1, [&](int x, int y, int) {
    const double off = 1.6 * std::sin(x * 0.11 + y * 0.07) + 1.2 * std::sin(x * 0.53) * std::sin(y * 0.61);
    return figure(x + 0.5, y + 0.5) < off ? 255 : 0;
  });
}

int pointsOf(const path::Path& p) {
  int n = 0;
  for (const auto& o : p.outlines) n += int(o.nodes.size());
  return n;
}

struct Off {
  double mean = 0, most = 0, beyond = 0;  // px; beyond: the share of places that are off by more than 1 px
};
Off offOf(const path::Path& p) {
  Off off;
  int n = 0;
  for (const auto& o : p.outlines) {
    const auto points = path::flattened(o, 0.05);
    for (std::size_t i = 0; i < points.size(); ++i) {
      // Chords are of any length: places a px apart on them.
      const base::Point a = points[i], b = points[(i + 1) % points.size()];
      const int steps = std::max(1, int(std::hypot(b.x - a.x, b.y - a.y)));
      for (int k = 0; k < steps; ++k, ++n) {
        const double t = double(k) / steps, d = std::abs(figure(a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t));
        off.mean += d, off.most = std::max(off.most, d), off.beyond += d > 1 ? 1 : 0;
      }
    }
  }
  off.mean /= std::max(1, n), off.beyond /= std::max(1, n);
  return off;
}

}  // namespace

class EdgePathTest : public QObject {
  Q_OBJECT
 private slots:
  void aPersonIsFewPointsOnTheEdge() {
    const auto found = test::must(matte::pathAlongEdge(roughFigure(), figureBeforeWall(), 0.5, {}));
    const Off off = offOf(found.path);
    qInfo("%d points, off by %.2f px in the mean, %.2f px at the most, %.1f %% by more than 1 px", pointsOf(found.path), off.mean,
          off.most, 100 * off.beyond);
    QVERIFY(pointsOf(found.path) <= 60);
    QVERIFY(off.mean < 0.4);
    QVERIFY(off.beyond < 0.03);  // where arms and legs meet the body
    QVERIFY(off.most < 3);
    // Along the selection as it is, it takes far more and stays where the selection was.
    const auto asItIs = test::must(matte::pathAlongEdge(roughFigure(), {}, 0.5, {}));
    QVERIFY(pointsOf(asItIs.path) > 2 * pointsOf(found.path));
    QVERIFY(offOf(asItIs.path).mean > 2 * off.mean);
  }
  void whereNoEdgeIsSeenCornersStay() {
    const auto grey = test::picture(300, 200, 3, [](int, int, int) { return 120; });
    const auto box =
        test::picture(300, 200, 1, [](int x, int y, int) { return x >= 60 && x < 240 && y >= 50 && y < 150 ? 255 : 0; });
    const auto found = test::must(matte::pathAlongEdge(box, grey, 1, {}));
    QCOMPARE(pointsOf(found.path), 4);
    for (const auto& n : found.path.outlines[0].nodes) {
      const double dx = std::min(std::abs(n.at.x - 60), std::abs(n.at.x - 240)),
                   dy = std::min(std::abs(n.at.y - 50), std::abs(n.at.y - 150));
      QVERIFY2(dx < 1 && dy < 1, qPrintable(QString("%1 %2").arg(n.at.x).arg(n.at.y)));
    }
  }
};

HSEAM_TEST(EdgePathTest);
#include "edge_path_test.moc"
