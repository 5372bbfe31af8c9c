#include "core/render/canvas_change.h"

#include "core/scene/mask_cover.h"
#include "core/scene/set_words.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

double worstWithin(const image::Raster<float>& a, int ax, int ay, const image::Raster<float>& b, int bx, int by, int w, int h) {
  double worst = 0;
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      for (int c = 0; c < 4; ++c) worst = std::max(worst, double(std::abs(a.at(ax + x, ay + y)[c] - b.at(bx + x, by + y)[c])));
    }
  }
  return worst;
}

scene::Scene changedScene(const scene::Scene& s, const render::CanvasChange& change) {
  return test::must(scene::apply(s, test::must(render::changedCanvas(s, change, test::here()))));
}

}  // namespace

class CanvasChangeTest : public QObject {
  Q_OBJECT
 private slots:
  void croppingKeepsEveryPixel() {
    scene::Scene s = test::richScene(260, 180, scene::Mixing::linear);
    s.guides = {{true, 100}, {false, 50}, {false, 0, base::Point{90, 60}}};
    const scene::Scene t = changedScene(s, render::cropped({30, 20, 150, 120}));
    QCOMPARE(t.canvas, base::Size({150, 120}));
    QCOMPARE(worstWithin(test::rendered(s), 30, 20, test::rendered(t), 0, 0, 150, 120), 0.0);
    QCOMPARE(t.guides, std::vector<scene::Guide>({{true, 70}, {false, 30}, {false, -20, base::Point{60, 40}}}));
  }
  void extendingKeepsEveryPixelAndMasksGoOn() {
    const scene::Scene s = test::richScene(120, 90, scene::Mixing::linear);
    const scene::Scene t = changedScene(s, render::cropped({-20, -10, 170, 120}));
    QCOMPARE(worstWithin(test::rendered(s), 0, 0, test::rendered(t), 20, 10, 120, 90), 0.0);
    // The curve's mask is a ramp to the right: outside it stays as it is at its edge.
    const auto mask = test::must(image::read8(scene::findLayer(t, {3})->mask.coverage, 0, {0, 60, 170, 1}));
    QVERIFY(*mask.at(3, 0) == *mask.at(19, 0) && *mask.at(160, 0) == *mask.at(139, 0) && *mask.at(160, 0) > 240);
  }
  void resizingIsTheRenderedSceneReduced() {
    const scene::Scene s = test::richScene(240, 160, scene::Mixing::linear);
    const scene::Scene t = changedScene(s, render::resized(s.canvas, {120, 80}));
    const auto small = test::rendered(t), half = test::rendered(s, 1);
    double sum = 0;
    for (std::size_t i = 0; i < small.samples().size(); ++i) sum += double(std::abs(small.samples()[i] - half.samples()[i]));
    QVERIFY2(sum / double(small.samples().size()) < 0.012, qPrintable(QString::number(sum / double(small.samples().size()))));
  }
  // Bent words go with the picture, and setting the same words again afterwards bends them as they are.
  void bentWordsTurnAndStayTheSameBend_data() {
    QTest::addColumn<bool>("corners");
    QTest::newRow("a grid") << false;
    QTest::newRow("a grid and corners") << true;
  }
  void bentWordsTurnAndStayTheSameBend() {
    QFETCH(bool, corners);
    scene::Scene s;
    s.canvas = {900, 500};
    scene::Layer l;
    l.id = {1};
    l.content = scene::FillContent{scene::SolidFill{{1, 1, 1}}};
    text::Lettering words;
    words.words = "HIH";
    words.sizePx = 120;
    words.at = {450, 260};
    const base::Rect box = test::must(scene::boxOf(words));
    scene::Warp warp = scene::withGrid({}, {box.width, box.height}, 2, 2);
    warp.grid[4].y -= 30;
    if (corners) warp.corners = {{0, 10}, {box.width + 20.0, -15}, {box.width + 0.0, box.height + 12.0}, {-8, box.height + 0.0}};
    const auto set = test::must(
        scene::setWords(l, words, std::make_shared<const scene::Bend>(scene::Bend{box, warp}), s.canvas, test::memory()));
    l.content = set.edit.fill;
    l.mask = set.edit.mask;
    s.layers = {ref(l)};
    const scene::Scene t = changedScene(s, render::straightened(s.canvas, 9));
    const scene::Layer& turned = *t.layers[0];
    const auto again =
        test::must(scene::setWords(turned, *turned.fill()->lettering, turned.fill()->bend, t.canvas, test::memory()));
    QVERIFY(turned.fill()->bend && !turned.fill()->lettering->along);
    // As many outlines; each of their points lies near the other's.
    const auto& was = turned.mask.path->outlines;
    const auto& is = again.edit.mask.path->outlines;
    QCOMPARE(is.size(), was.size());
    double most = 0;
    for (std::size_t k = 0; k < was.size(); ++k) {
      for (const path::Node& n : is[k].nodes) {
        double nearest = 1e9;
        for (const path::Node& m : was[k].nodes) nearest = std::min(nearest, std::hypot(m.at.x - n.at.x, m.at.y - n.at.y));
        most = std::max(most, nearest);
      }
    }
    QVERIFY2(most < 2, qPrintable(QString::number(most)));
  }
  void straighteningFillsTheCanvasAndTurnsRightWay() {
    scene::Scene s;
    s.canvas = {400, 300};
    // A horizon that falls to the right by 5°: black above, white below.
    const double slope = std::tan(5 * M_PI / 180);
    s.layers = {ref(test::pictureLayer(
        1, test::picture(400, 300, 3, [=](int x, int y, int) { return y > 150 + (x - 200) * slope ? 255 : 0; })))};
    const scene::Scene t = changedScene(s, render::straightened(s.canvas, -5));
    const auto out = test::rendered(t);
    QVERIFY(out.width() < 400 && out.width() > 330);
    QVERIFY(std::abs(double(out.width()) / out.height() - 4.0 / 3) < 0.01);
    for (int y = 0; y < out.height(); ++y) {
      for (int x : {0, out.width() - 1}) QCOMPARE(out.at(x, y)[3], 1.f);
    }
    const auto horizon = [&](int x) {
      int y = 0;
      while (y < out.height() && out.at(x, y)[0] < 0.5f) ++y;
      return y;
    };
    QVERIFY(std::abs(horizon(10) - horizon(out.width() - 10)) <= 1);
  }
  // Horizon, lights, fills with their shapes, and the lengths of effects go with the canvas: halved, all looks as it did from
  // afar.
  void whatIsMadeOfNumbersFollowsTheCanvas() {
    scene::Scene s;
    s.canvas = {400, 300};
    s.floor = scene::Floor{90, 0, 1.6, 50};
    scene::Layer post = test::pictureLayer(2, test::picture(60, 160, 3, [](int, int, int) { return 60; }), 150, 60);
    post.mask.coverage =
        test::picture(60, 160, 1, [](int x, int y, int) { return x >= 20 && x < 40 && y >= 10 && y < 150 ? 255 : 0; });
    const auto light = [](std::uint64_t id, scene::LightKind kind) {
      scene::Layer l;
      l.id = {id};
      l.name = "light";
      l.mode = scene::BlendMode::multiply;
      l.content = scene::LightContent{{2}, std::move(kind)};
      return l;
    };
    scene::CastShadow cast;
    cast.foot = {30, 150};
    scene::ContactShadow contact;
    contact.line = {{20, 150}, {40, 150}};
    scene::Layer shape;
    shape.id = {5};
    shape.name = "shape";
    scene::GradientFill g;
    g.from = {260, 40}, g.to = {360, 40};
    shape.content = scene::FillContent{g, nullptr};
    shape.mask.path = std::make_shared<const path::Path>(
        path::Path{{{{path::corner({260, 30}), path::corner({370, 30}), path::corner({330, 120})}, true, path::Joins::add}}});
    shape.mask = test::must(scene::boundedMask(shape.mask, {}, true, s.canvas, test::memory()));
    scene::Layer blur = test::adjustmentLayer(6, with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", 6));
    s.layers = {ref(test::pictureLayer(1, test::picture(400, 300, 3, [](int, int, int) { return 200; }))),
                ref(light(3, cast)),
                ref(light(4, contact)),
                ref(post),
                ref(shape),
                ref(blur)};
    const render::CanvasChange half{base::Affine::scaling(0.5), {200, 150}, "half"};
    const auto after = test::must(scene::apply(s, test::must(render::changedCanvas(s, half, test::here()))));
    const auto small = test::rendered(after), large = test::rendered(s, 1);
    double sum = 0, most = 0;
    for (std::size_t i = 0; i < small.samples().size(); ++i) {
      const double d = std::abs(double(small.samples()[i]) - double(large.samples()[i]));
      sum += d, most = std::max(most, d);
    }
    QVERIFY2(sum / double(small.samples().size()) < 0.004 && most < 0.12,
             qPrintable(QStringLiteral("%1 %2").arg(sum / double(small.samples().size())).arg(most)));
    // Cropped from the left and the top, the horizon stays on the picture.
    const render::CanvasChange crop{{1, 0, 0, 1, -50, -40}, {300, 220}, "crop"};
    const auto cropped = test::must(scene::apply(s, test::must(render::changedCanvas(s, crop, test::here()))));
    QCOMPARE(cropped.floor->horizonY, 50.0);
    QVERIFY(scene::findLayer(cropped, {5})->mask.pathActs &&
            scene::findLayer(cropped, {5})->mask.coverage.size() == cropped.canvas);
  }
  void aCarriedMaskCoversTheSamePlace() {
    scene::Scene s = test::richScene(200, 150, scene::Mixing::linear);
    scene::Layer to = test::pictureLayer(30, test::colours(120, 100, 3), 15, 8);
    auto& at = std::get<scene::PictureContent>(to.content).placement;
    at.scale = 1.3;
    at.rotationDeg = 20;
    s.layers.push_back(ref(to));
    // From the canvas to the picture and back to another adjustment: where it was, it is again.
    const scene::Layer& group = *scene::findLayer(s, {4});
    scene::Layer carried = to;
    carried.mask.coverage = test::must(render::maskCarried(s, group, to, test::here()));
    const auto back = test::must(render::maskCarried(s, carried, *scene::findLayer(s, {7}), test::here()));
    const auto first = test::must(image::readFloat(group.mask.coverage, 0, {0, 0, 200, 150})),
               last = test::must(image::readFloat(back, 0, {0, 0, 200, 150}));
    const base::Affine inside = at.toScene({120, 100}).inverse().value();
    double worst = 0;
    for (int y = 0; y < 150; ++y) {
      for (int x = 0; x < 200; ++x) {
        const base::Point p = inside.map({x + 0.5, y + 0.5});
        if (p.x > 3 && p.y > 3 && p.x < 117 && p.y < 97)
          worst = std::max(worst, double(std::abs(*first.at(x, y) - *last.at(x, y))));
      }
    }
    QVERIFY2(worst < 0.02, qPrintable(QString::number(worst)));
    // Between layers of one grid the very same tiles are shared.
    QCOMPARE(test::must(render::maskCarried(s, group, *scene::findLayer(s, {7}), test::here())).stamp(),
             group.mask.coverage.stamp());
  }
  void aReplacedPictureStandsWhereTheOldOneStood() {
    scene::Scene s = test::richScene(200, 150, scene::Mixing::linear);
    // The same picture at twice the size: the scene must look the same.
    const image::TiledImage old = scene::findLayer(s, {2})->picture()->source;
    const auto small = test::must(image::read8(old, 0, base::Rect::of(old.size())));
    const auto twice = test::picture(old.size().width * 2, old.size().height * 2, 3,
                                     [&](int x, int y, int c) { return small.at(x / 2, y / 2)[c]; });
    scene::PictureContent fresh;
    fresh.source = twice;
    fresh.sourceName = "twice.png";
    const auto edit = test::must(render::replacedPicture(s, {2}, fresh, test::here()));
    const scene::Scene t = test::must(scene::apply(s, edit));
    const auto before = test::rendered(s), after = test::rendered(t);
    double sum = 0;
    for (std::size_t i = 0; i < before.samples().size(); ++i) sum += double(std::abs(before.samples()[i] - after.samples()[i]));
    QVERIFY2(sum / double(before.samples().size()) < 0.004, qPrintable(QString::number(sum / double(before.samples().size()))));
    QCOMPARE(scene::findLayer(t, {2})->mask.coverage.size(), twice.size());
    QCOMPARE(scene::findLayer(t, {2})->opacity, 0.8);
    QCOMPARE(scene::describe(s, edit), std::string("picture of layer 2: twice.png"));
    QVERIFY(!render::replacedPicture(s, {3}, fresh, test::here()).ok());
  }
};
HSEAM_TEST(CanvasChangeTest);
#include "canvas_change_test.moc"
