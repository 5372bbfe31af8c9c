#include "core/tasks/shooting_list.h"

#include <cmath>

#include "core/render/scenes.h"
#include "core/scene/floor.h"

using namespace hseam;

class ShootingListTest : public QObject {
  Q_OBJECT

  static constexpr base::Size kCanvas{1500, 1000};
  // A post of known height at a known place of the floor, as the scene's camera sees it: its foot and head in px.
  static scene::Layer postAt(std::uint64_t id, const scene::FloorCamera& camera, double x, double z, double height) {
    const base::Point foot = *camera.project({x, 0, z}), head = *camera.project({x, height, z});
    const int w = 20, h = int(std::lround(foot.y - head.y));
    scene::Layer l = test::pictureLayer(id, test::picture(w, h, 3, [](int, int, int) { return 90.0; }), foot.x - w / 2.0, head.y);
    l.name = "post " + std::to_string(id);
    l.mask.coverage = test::picture(w, h, 1, [](int, int, int) { return 255.0; });
    return l;
  }
  static scene::Scene planned() {
    scene::Scene s;
    s.canvas = kCanvas;
    scene::Floor floor;
    floor.horizonY = 400;
    floor.cameraHeightM = 1.25;
    floor.viewAngleDeg = 2 * std::atan(0.5) * 180 / M_PI;  // as wide as it is far: focal length = width
    s.floor = floor;
    const scene::FloorCamera camera(floor, s.canvas);
    scene::Layer place = test::pictureLayer(1, test::picture(1500, 1000, 3, [](int x, int, int) { return x % 200; }));
    place.name = "pier";
    scene::Layer near = postAt(2, camera, -0.5, 4, 1.8), far = postAt(3, camera, 1, 10, 0.6);
    scene::Layer hidden = postAt(4, camera, 1, 10, 0.6);
    hidden.hidden = true;
    scene::Layer light;
    light.id = {5};
    light.name = "shadow of post 2";
    scene::CastShadow cast;
    cast.light = {-120, 35, 2};
    light.content = scene::LightContent{{2}, cast};
    s.layers = {test::ref(place), test::ref(light), test::ref(near), test::ref(far), test::ref(hidden)};
    return s;
  }

 private slots:
  void distancesHeightsLensAndTiltComeBack() {
    const auto list = test::must(tasks::shootingList(planned()));
    QVERIFY(list.floorSet);
    QCOMPARE(list.shots.size(), std::size_t(3));
    QVERIFY(list.shots[0].place && !list.shots[0].distanceM && list.shots[0].leastHeightPx == 1000);
    for (const tasks::Shot& s : list.shots) {
      QVERIFY(std::abs(s.focal35Mm - 36) < 1e-6 && std::abs(s.cameraHeightM - 1.25) < 1e-9);
      QVERIFY(std::abs(s.tiltDownDeg - std::atan(100.0 / 1500) * 180 / M_PI) < 1e-6);
    }
    const tasks::Shot &near = list.shots[1], &far = list.shots[2];
    QVERIFY2(near.distanceM && std::abs(*near.distanceM - std::hypot(0.5, 4)) < 0.05,
             qPrintable(QString::number(*near.distanceM)));
    QVERIFY2(std::abs(near.asideM + 0.5) < 0.03 && std::abs(*near.heightM - 1.8) < 0.03,
             qPrintable(QString::number(*near.heightM)));
    QVERIFY2(std::abs(*far.distanceM - std::hypot(1, 10)) < 0.2 && std::abs(*far.heightM - 0.6) < 0.03,
             qPrintable(QString::number(*far.distanceM)));
    QCOMPARE(list.lights.size(), std::size_t(1));
    QVERIFY(list.lights[0].azimuthDeg == -120 && list.lights[0].elevationDeg == 35);
  }
  void whatIsNotedOfItsHeightCounts() {
    scene::Scene s = planned();
    scene::Layer l = *s.layers[2];
    std::get<scene::PictureContent>(l.content).realHeightM = 2.1;
    s.layers[2] = test::ref(l);
    QCOMPARE(*test::must(tasks::shootingList(s)).shots[1].heightM, 2.1);
  }
  void whatIsNotKnownIsSaid() {
    scene::Scene s = planned();
    s.floor.reset();
    s.layers.erase(s.layers.begin() + 1);
    // One hangs in the sky.
    scene::Layer l = *s.layers[2];
    std::get<scene::PictureContent>(l.content).placement.y = 10;
    s.layers[2] = test::ref(l);
    const auto list = test::must(tasks::shootingList(s));
    QVERIFY(!list.floorSet && list.lights.empty() && !list.shots[2].distanceM);
    const std::string text = tasks::shootingListText(list);
    QVERIFY(text.find("Nobody has said where the floor lies") == 0 && text.find("distance not told") != std::string::npos &&
            text.find("No light is set") != std::string::npos);
  }
  void thePageHoldsTheSameAndNoForeignMarkup() {
    scene::Scene s = planned();
    scene::Layer l = *s.layers[2];
    l.name = "<b>post</b>";
    s.layers[2] = test::ref(l);
    const auto list = test::must(tasks::shootingList(s));
    const std::string page = tasks::shootingListHtml(list, "Shots & more");
    QVERIFY(page.find("&lt;b&gt;post&lt;/b&gt;") != std::string::npos && page.find("<b>post") == std::string::npos);
    QVERIFY(page.find("Shots &amp; more") != std::string::npos && page.find("36 mm") != std::string::npos);
    QVERIFY(page.find("120° round to the left, 35° high, hard") != std::string::npos);
  }
};

HSEAM_TEST(ShootingListTest);
#include "shooting_list_test.moc"
