// The light of the place from one shadow that is seen in it.

#include "core/scene/place_light.h"

#include <QTest>
#include <cmath>

#include "core/render/canvas_change.h"
#include "core/scene/edit.h"
#include "core/scene/layer_record.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

constexpr base::Size kPlace{1200, 800};

Floor tilted() {
  return {310, 4, 1.7, 55};
}

// A post of 1.3 m at a place of the floor, and the shadow of its top under a light, by the geometry of a sunbeam.
SeenShadow seenUnder(const FloorCamera& camera, Vec3 at, double azimuthDeg, double elevationDeg) {
  constexpr double kTall = 1.3;
  const double way = kTall / std::tan(elevationDeg * M_PI / 180), a = azimuthDeg * M_PI / 180;
  return {*camera.project(at), *camera.project({at[0], kTall, at[2]}),
          *camera.project({at[0] - std::sin(a) * way, 0, at[2] + std::cos(a) * way})};
}

Scene litPlace() {
  Scene s;
  s.canvas = kPlace;
  s.floor = tilted();
  s.light = PlaceLight{};
  s.light->seen = seenUnder(FloorCamera(tilted(), kPlace), {-1.2, 0, 7}, 130, 31);
  s.light->from.sizeDeg = 7;
  return s;
}

}  // namespace

class PlaceLightTest : public QObject {
  Q_OBJECT
 private slots:
  void aShadowTellsItsLight_data() {
    QTest::addColumn<double>("azimuth");
    QTest::addColumn<double>("elevation");
    for (const auto& [a, e] : {std::pair{-150.0, 38.0}, {40.0, 60.0}, {95.0, 12.0}, {-90.0, 25.0}, {10.0, 45.0}})
      QTest::addRow("from %.0f, %.0f high", a, e) << a << e;
  }
  void aShadowTellsItsLight() {
    QFETCH(double, azimuth);
    QFETCH(double, elevation);
    const FloorCamera camera(tilted(), kPlace);
    for (const Vec3 at : {Vec3{-1.2, 0, 7}, Vec3{0.8, 0, 5}}) {
      const auto from = lightFromShadow(seenUnder(camera, at, azimuth, elevation), camera);
      QVERIFY(from);
      QVERIFY2(std::abs(std::remainder(from->azimuthDeg - azimuth, 360.0)) < 0.01, qPrintable(QString::number(from->azimuthDeg)));
      QVERIFY2(std::abs(from->elevationDeg - elevation) < 0.01, qPrintable(QString::number(from->elevationDeg)));
    }
  }
  void whatSaysNothingIsNoLight() {
    const FloorCamera camera(tilted(), kPlace);
    const base::Point foot{500, 600};
    QVERIFY(!lightFromShadow({foot, {500, 400}, {650, 200}}, camera));  // a tip in the sky
    QVERIFY(!lightFromShadow({{500, 200}, {500, 100}, {650, 600}}, camera));
    QVERIFY(!lightFromShadow({foot, {500, 700}, {650, 610}}, camera));  // its top under its foot
    QVERIFY(!lightFromShadow({foot, {500, 400}, foot}, camera));
    QVERIFY(lightFromShadow({foot, {500, 400}, {650, 610}}, camera));
  }
  void theTopFollowsFromAHeight() {
    const FloorCamera camera(tilted(), kPlace);
    const SeenShadow seen = seenUnder(camera, {-1.2, 0, 7}, 60, 33);
    const auto top = topUnder(seen.foot, seen.tip, 33, camera);
    QVERIFY(top && std::hypot(top->x - seen.top.x, top->y - seen.top.y) < 0.01);
  }
  void itFollowsTheFloorAndIsKept() {
    Scene s = litPlace();
    const LightFrom from = *lightOf(s);
    QVERIFY(std::abs(from.azimuthDeg - 130) < 0.01 && from.sizeDeg == 7);
    // On another floor the same shadow lies otherwise.
    s.floor->horizonY -= 60;
    QVERIFY(std::abs(lightOf(s)->azimuthDeg - from.azimuthDeg) + std::abs(lightOf(s)->elevationDeg - from.elevationDeg) > 1);
    const auto read = sceneFromRecord(sceneRecord(s, [](const LayerRef&) { return std::string(); }),
                                      [](const std::string&) -> base::Result<LayerRef> { return LayerRef(); });
    QVERIFY(read.ok() && read->light == s.light);
    s.light->casts = false;
    QVERIFY(!lightOf(s));
    QCOMPARE(castShadowOf(s), CastShadow{});
  }
  void aCropAndAnotherSizeLeaveIt() {
    const Scene s = litPlace();
    const LightFrom from = *lightOf(s);
    for (const render::CanvasChange& change :
         {render::cropped({150, 90, 800, 650}), render::resized(kPlace, {600, 400}), render::straightened(kPlace, 3)}) {
      const Scene next = test::must(scene::apply(s, test::must(render::changedCanvas(s, change, test::here()))));
      const LightFrom then = *lightOf(next);
      QVERIFY2(std::abs(then.azimuthDeg - from.azimuthDeg) < 3 && std::abs(then.elevationDeg - from.elevationDeg) < 1.5,
               change.label.c_str());
    }
  }
  void outOfRangeIsRefused() {
    const Scene s = litPlace();
    PlaceLight wrong = *s.light;
    wrong.density = 1.5;
    QVERIFY(!scene::apply(s, SetPlaceLight{wrong}).ok());
    wrong = *s.light;
    wrong.from.elevationDeg = 0;
    QVERIFY(!scene::apply(s, SetPlaceLight{wrong}).ok());
    wrong = *s.light;
    wrong.seen->tip.x = std::nan("");
    QVERIFY(!scene::apply(s, SetPlaceLight{wrong}).ok());
    QVERIFY(scene::apply(s, SetPlaceLight{std::nullopt}).ok());
  }
};

HSEAM_TEST(PlaceLightTest);
#include "place_light_test.moc"
