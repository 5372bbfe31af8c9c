#include "core/tasks/shelve.h"

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/scenes.h"
#include "core/scene/floor.h"

using namespace hseam;

class ShelveTest : public QObject {
  Q_OBJECT

  // Squares with edges of a known blur.
  static image::TiledImage squares(int w, int h, double sigma, double tint) {
    cv::Mat sharp(h, w, CV_32F);
    for (int y = 0; y < h; ++y) {
      for (int x = 0; x < w; ++x) sharp.at<float>(y, x) = ((x / 40 + y / 40) % 2) ? 190.f : 70.f;
    }
    cv::GaussianBlur(sharp, sharp, {}, sigma);
    return test::picture(w, h, 3, [&](int x, int y, int c) { return double(sharp.at<float>(y, x)) * (c == 2 ? tint : 1); });
  }
  static bool inside(int x, int y) { return std::hypot(x - 150.0, y - 120.0) < 60; }
  static scene::Scene withSubject() {
    scene::Scene s;
    s.canvas = {300, 240};
    scene::Layer l =
        test::pictureLayer(1, test::picture(300, 240, 3, [](int x, int y, int c) {
                             return inside(x, y) ? (c == 0 ? 190.0 : 70.0) + (x * 13 + y * 7) % 17 : 225.0 + (x * 5 + y * 11) % 6;
                           }));
    l.mask.coverage = test::picture(300, 240, 1, [](int x, int y, int) { return inside(x, y) ? 255.0 : 0; });
    s.layers = {test::ref(std::move(l))};
    return s;
  }

 private slots:
  void whatIsKnownOfAPictureGoesAlong() {
    scene::Scene s;
    s.canvas = {400, 300};
    scene::Layer l = test::pictureLayer(1, squares(800, 600, 2, 0.8));
    auto& p = std::get<scene::PictureContent>(l.content);
    p.placement.scale = 0.5;
    p.permission = scene::Permission{"the pier's keeper", "posters", "", false, false};
    s.layers = {test::ref(l)};
    s.floor = scene::usualFloor(s.canvas);
    s.floor->horizonY = 110;
    const store::ShelfItem item = test::must(tasks::shelfItemOf(s, {1}, store::ShelfKind::place, "squares"));
    QVERIFY(item.width == 800 && item.height == 600 && item.permission == p.permission);
    // The scene's floor, in px of the picture.
    QVERIFY(item.horizonY && std::abs(*item.horizonY - 220) < 1e-9);
    QVERIFY2(std::abs(item.blurPx - 2) < 0.3, qPrintable(QString::number(item.blurPx)));
    QVERIFY(item.midL > 20 && !item.lightFromDeg);
    // Its own horizon counts for more; of a turned picture the floor says nothing.
    p.horizonY = 77;
    s.layers = {test::ref(l)};
    QCOMPARE(*test::must(tasks::shelfItemOf(s, {1}, store::ShelfKind::sky, "s")).horizonY, 77.0);
    p.horizonY.reset();
    p.placement.rotationDeg = 5;
    s.layers = {test::ref(l)};
    QVERIFY(!test::must(tasks::shelfItemOf(s, {1}, store::ShelfKind::sky, "s")).horizonY);
    QCOMPARE(tasks::shelfItemOf(s, {7}, store::ShelfKind::sky, "s").error().code, base::Code::notFound);
  }
  void itComesIntoAnotherSceneWithIt() {
    store::ShelfItem item;
    item.name = "squares";
    item.file = "/somewhere/ab12.png";
    item.horizonY = 33;
    item.permission = scene::Permission{"", "", "", false, true};
    const scene::Scene s = withSubject();
    const scene::Scene then = test::must(scene::apply(s, tasks::fromShelf(s, item, squares(100, 80, 1, 1), "key", {})));
    const auto& p = *then.layers.back()->picture();
    QVERIFY(p.horizonY == 33.0 && p.permission->nobodySeen && p.sourceHash == "key" && p.sourceName == "ab12.png");
  }
  void itBecomesTheBackgroundInOneStep() {
    store::ShelfItem item;
    item.name = "squares";
    item.horizonY = 90;  // of 200
    const scene::Scene s = withSubject();
    const auto made =
        test::must(tasks::changeBackgroundFromShelf(s, {1}, item, squares(250, 200, 1, 0.9), {}, {false}, test::here(), {}));
    QVERIFY(!made.cut);
    const scene::Scene then = test::must(scene::apply(s, made.edit));
    QCOMPARE(then.layers.size(), std::size_t(2));
    QVERIFY(then.layers[0]->name == "squares" && then.layers[1]->id.value == 1);
    // It fills the canvas: 300 / 250 of its size; the floor is where its horizon lies then.
    QVERIFY(std::abs(then.layers[0]->picture()->placement.scale - 1.2) < 1e-9);
    QVERIFY(then.floor && std::abs(then.floor->horizonY - 90 * 1.2) < 1.01);
    // A floor that was set stays.
    scene::Scene set = s;
    set.floor = scene::usualFloor(s.canvas);
    const auto second =
        test::must(tasks::changeBackgroundFromShelf(set, {1}, item, squares(250, 200, 1, 0.9), {}, {false}, test::here(), {}));
    QVERIFY(test::must(scene::apply(set, second.edit)).floor == set.floor);
  }
};

HSEAM_TEST(ShelveTest);
#include "shelve_test.moc"
