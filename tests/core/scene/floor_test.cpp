// The floor against a camera written down another way: by where it stands and what it aims at.

#include "core/scene/floor.h"

#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

// A look-at camera; the demo's pier: 1.62 m high, aiming at 1.28 m, 11.6 m ahead, 46° across 3072 px.
struct LookAt {
  Vec3 position, aim;
  double angleDeg;
  base::Size size;
  base::Point seen(const Vec3& w) const {
    const auto minus = [](const Vec3& a, const Vec3& b) { return Vec3{a[0] - b[0], a[1] - b[1], a[2] - b[2]}; };
    const auto dot = [](const Vec3& a, const Vec3& b) { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; };
    const auto cross = [](const Vec3& a, const Vec3& b) {
      return Vec3{a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
    };
    const auto unit = [&](const Vec3& a) {
      const double l = std::sqrt(dot(a, a));
      return Vec3{a[0] / l, a[1] / l, a[2] / l};
    };
    const Vec3 ahead = unit(minus(aim, position)), right = unit(cross({0, 1, 0}, ahead)), up = cross(ahead, right);
    const Vec3 d = minus(w, position);
    const double f = size.width / 2.0 / std::tan(angleDeg * M_PI / 360);
    return {size.width / 2.0 + f * dot(d, right) / dot(d, ahead), size.height / 2.0 - f * dot(d, up) / dot(d, ahead)};
  }
};

constexpr base::Size kCanvas{3072, 2048};
// Aimed straight ahead, so that the floor's z is the world's.
const LookAt kPier{{0, 1.62, 0}, {0, 1.28, 11.6}, 46, kCanvas};

Floor pierFloor() {
  Floor f;
  // The horizon is where points at the camera's height are seen far away.
  f.horizonY = kPier.seen({0, 1.62, 1e7}).y;
  f.cameraHeightM = 1.62;
  f.viewAngleDeg = 46;
  return f;
}

}  // namespace

class FloorTest : public QObject {
  Q_OBJECT
 private slots:
  void theWorldIsSeenWhereTheOtherCameraSeesIt() {
    const FloorCamera camera(pierFloor(), kCanvas);
    for (const Vec3& w : {Vec3{0, 0, 4}, {1.52, 0, 10}, {1.52, 3.45, 10}, {-1.52, 0, 12.8}, {-3, 1, 20}, {0.4, 0, 60}}) {
      const auto seen = camera.project(w);
      QVERIFY(seen.has_value());
      const base::Point truth = kPier.seen(w);
      QVERIFY2(std::hypot(seen->x - truth.x, seen->y - truth.y) < 1e-6,
               qPrintable(QStringLiteral("%1 %2 for %3 %4").arg(seen->x).arg(seen->y).arg(truth.x).arg(truth.y)));
      if (w[1] == 0) {
        const auto back = camera.floorAt(*seen);
        QVERIFY(back && std::hypot((*back)[0] - w[0], (*back)[2] - w[2]) < 1e-6 * w[2]);
      }
    }
    QVERIFY(!camera.floorAt({100, pierFloor().horizonY - 1}));
    QVERIFY(!camera.project({0, 0, -5}));
  }
  // The lamps of the pier: as tall as the other camera sees them, to a thousandth.
  void sizeOnTheFloor() {
    const FloorCamera camera(pierFloor(), kCanvas);
    for (const double z : {10.0, 12.8, 17.6, 20.1}) {
      const base::Point foot = kPier.seen({1.52, 0, z}), head = kPier.seen({1.52, 3.45, z});
      const auto tall = heightAtFoot(camera, foot, 3.45);
      const double truth = std::hypot(head.x - foot.x, head.y - foot.y);
      QVERIFY2(tall && std::abs(*tall / truth - 1) < 1e-3, qPrintable(QString::number(tall.value_or(0) / truth)));
    }
    // Something as tall as the camera stands with its head on the horizon.
    const auto tall = heightAtFoot(camera, {1600, 1700}, 1.62);
    QVERIFY(std::abs(*tall - (1700 - pierFloor().horizonY)) < 0.02 * *tall);
    QVERIFY(!heightAtFoot(camera, {100, 10}, 1));
  }
  void aTiltedHorizonTiltsTheWorld() {
    Floor f = pierFloor();
    f.tiltDeg = 6;
    const FloorCamera camera(f, kCanvas);
    // Points of the horizon line have no floor, points below it on both sides lie equally far.
    const double slope = std::tan(6 * M_PI / 180);
    for (const double x : {200.0, 2800.0}) {
      const double y = f.horizonY + slope * (x - kCanvas.width / 2.0);
      QVERIFY(!camera.floorAt({x, y - 1}) && camera.floorAt({x, y + 1}));
      const auto seen = camera.project(*camera.floorAt({x, y + 300}));
      QVERIFY(std::hypot(seen->x - x, seen->y - y - 300) < 1e-6);
    }
  }
};

HSEAM_TEST(FloorTest);
#include "floor_test.moc"
