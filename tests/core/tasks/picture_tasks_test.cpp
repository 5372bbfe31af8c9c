#include <cmath>

#include "core/matte/band.h"
#include "core/path/path.h"
#include "core/render/scenes.h"
#include "core/tasks/cut_out.h"
#include "core/tasks/measure.h"
#include "core/tasks/place.h"
#include "core/tasks/select.h"

using namespace hseam;

// What is done to one picture: chosen, cut out, measured, placed.
class PictureTasksTest : public QObject {
  Q_OBJECT

  static constexpr int kW = 200, kH = 160;
  static bool onDisc(int x, int y) { return std::hypot(x - 80.0, y - 80.0) < 40; }
  static bool onSpot(int x, int y) { return std::hypot(x - 170.0, y - 30.0) < 12; }
  // Two things of one red on grey.
  static image::TiledImage things() {
    return test::picture(kW, kH, 3, [](int x, int y, int c) {
      return onDisc(x, y) || onSpot(x, y) ? (c == 0 ? 200.0 : 40.0) : 128.0 + (x * 7 + y * 3) % 5;
    });
  }
  static int chosenAt(const image::TiledImage& selection, int x, int y) {
    return *test::must(image::read8(selection, 0, {x, y, 1, 1})).at(0, 0);
  }

 private slots:
  void byColourHereOrEverywhere() {
    const auto picture = things();
    const auto here = test::must(tasks::select(picture, tasks::ByColour{{80, 80}, 10, false}, test::here(), {}));
    QVERIFY(chosenAt(here.selection, 100, 80) > 250 && chosenAt(here.selection, 170, 30) < 5);
    const auto all = test::must(tasks::select(picture, tasks::ByColour{{80, 80}, 10, true}, test::here(), {}));
    QVERIFY(chosenAt(all.selection, 100, 80) > 250 && chosenAt(all.selection, 170, 30) > 250 &&
            chosenAt(all.selection, 5, 5) < 5);
    const auto none = tasks::select(picture, tasks::ByColour{{kW, 3}, 10, true}, test::here(), {});
    QVERIFY(!none.ok() && none.error().code == base::Code::invalid);
  }
  void byPath() {
    path::Path square;
    square.outlines.push_back(
        {{path::corner({20, 20}), path::corner({60, 20}), path::corner({60, 60}), path::corner({20, 60})}, true});
    const auto made = test::must(tasks::select(things(), tasks::ByPath{square}, test::here(), {}));
    QVERIFY(chosenAt(made.selection, 40, 40) == 255 && chosenAt(made.selection, 70, 40) == 0);
  }
  void theSmallestThingAtAPixelIsTaken() {
    tasks::BySubject by;
    by.at = {{80, 80}};
    const auto made = test::must(tasks::select(things(), by, test::here(), {}));
    QVERIFY(chosenAt(made.selection, 80, 80) > 250 && made.which < made.seen.candidates.size());
    by.at = {{-1, 0}};
    QCOMPARE(tasks::select(things(), by, test::here(), {}).error().code, base::Code::invalid);
  }
  void aCutTellsItsStretchesAndBecomesAPicture() {
    const auto picture = things();
    const auto selection = test::picture(kW, kH, 1, [](int x, int y, int) { return onDisc(x, y) ? 255.0 : 0; });
    const auto made = test::must(matte::wholeCut(picture, selection, {}, {}, image::PixelFormat::grey16, test::here(), {}));
    const auto stretches = test::must(tasks::stretchesOf(picture, made.cut, test::here()));
    int length = 0;
    for (const auto& s : stretches) length += s.lengthPx;
    QVERIFY2(std::abs(length - 2 * M_PI * 40) < 60, qPrintable(QString::number(length)));
    const auto out = test::must(tasks::cutoutPicture(made.cut, test::here()));
    QCOMPARE(out.format(), image::PixelFormat::rgba8);
    const auto px = test::must(image::read8(out, 0, base::Rect::of(out.size())));
    QVERIFY(px.at(80, 80)[3] == 255 && std::abs(px.at(80, 80)[0] - 200) <= 1 && px.at(5, 5)[3] == 0);
  }
  void aLayerIsCutInOneStep() {
    scene::Scene s;
    s.canvas = {kW, kH};
    scene::Layer l = test::pictureLayer(4, things());
    std::get<scene::PictureContent>(l.content).cutout.edit().selection =
        test::picture(kW, kH, 1, [](int x, int y, int) { return onDisc(x, y) ? 255.0 : 0; });
    s.layers = {test::ref(l)};
    const auto cut = test::must(tasks::cutLayerOut(s, {4}, test::here(), {}));
    const scene::Scene after = test::must(scene::apply(s, cut));
    const scene::Layer& made = *scene::findLayer(after, {4});
    QVERIFY(made.mask.acts() && !made.picture()->cutout->band.isNull() && !made.picture()->cutout->clean.isNull());
    QVERIFY(chosenAt(made.mask.coverage, 80, 80) == 255 && chosenAt(made.mask.coverage, 150, 120) == 0);
    QCOMPARE(tasks::cutLayerOut(s, {9}, test::here(), {}).error().code, base::Code::notFound);
  }
  void readingsOfAPictureAndOfAPartOfIt() {
    const auto picture = things();
    const auto whole = test::must(tasks::measured(picture, {}, {}));
    QVERIFY(!whole.edge && !whole.against && whole.blackShare == 0 && whole.whiteShare == 0);
    const auto mask = test::picture(kW, kH, 1, [](int x, int y, int) { return onDisc(x, y) ? 255.0 : 0; });
    const auto part = test::must(tasks::measured(picture, mask, {}));
    QVERIFY(part.edge && part.saturation.available && whole.saturation.available);
    QVERIFY(part.saturation.value > whole.saturation.value + 40);
    // A stop more light, and a tenth of it at white.
    const auto lighter = test::picture(kW, kH, 3, [](int x, int, int) { return x < kW / 10 ? 255.0 : 0.0; });
    QVERIFY(std::abs(test::must(tasks::measured(lighter, {}, {})).whiteShare - 0.1) < 1e-9);
    const auto same = test::must(tasks::measured(picture, {}, picture));
    QVERIFY(same.against && (!same.against->stops.available || std::abs(same.against->stops.value) < 0.01));
  }
  void aPictureComesToLieInTheMiddle() {
    const auto whole = tasks::fitted({400, 100}, {200, 200}, tasks::Fit::whole);
    QVERIFY(whole.scale == 0.5 && whole.x == 0 && whole.y == 75);
    const auto small = tasks::fitted({100, 50}, {200, 200}, tasks::Fit::whole);
    QVERIFY(small.scale == 1 && small.x == 50 && small.y == 75);
    const auto cover = tasks::fitted({400, 100}, {200, 200}, tasks::Fit::cover);
    QVERIFY(cover.scale == 2 && cover.x == -300 && cover.y == 0);
    // The first picture makes the canvas its own size; the next one is fitted into it.
    scene::Scene s;
    s.canvas = {64, 64};
    s = test::must(scene::apply(s, tasks::placed(s, things(), {"things", "things.png", {}, {}})));
    QCOMPARE(s.canvas, (base::Size{kW, kH}));
    s = test::must(
        scene::apply(s, tasks::placed(s, test::picture(2 * kW, kH, 3, [](int, int, int) { return 9.0; }), {"wide", {}, {}, {}})));
    QCOMPARE(s.layers.size(), std::size_t(2));
    QVERIFY(s.canvas.width == kW && s.layers[1]->picture()->placement.scale == 0.5);
  }
};

HSEAM_TEST(PictureTasksTest);
#include "picture_tasks_test.moc"
