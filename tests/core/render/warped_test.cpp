// A bent picture against what it must be: the same as placing it where the bend is a placement, and its own inverse elsewhere.

#include "core/render/warped.h"

#include "core/image/transfer.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

scene::Scene sceneWith(const image::TiledImage& picture, const scene::Warp& warp, base::Size canvas, scene::Placement at = {}) {
  scene::Scene s;
  s.canvas = canvas;
  scene::Layer l = test::pictureLayer(1, picture);
  auto& p = std::get<scene::PictureContent>(l.content);
  p.placement = at;
  p.warp = warp.neutral() ? nullptr : std::make_shared<const scene::Warp>(warp);
  s.layers = {ref(l)};
  return s;
}

// Smooth waves, so that sampling itself costs nothing.
image::TiledImage waves(int w, int h) {
  return test::picture(
      w, h, 3, [](int x, int y, int c) { return 128 + 90 * std::sin((x + 0.5) / (9.0 + c)) * std::cos((y + 0.5) / 11.0); });
}

}  // namespace

class WarpedTest : public QObject {
  Q_OBJECT
 private slots:
  void aBendThatIsAPlacementLooksTheSame_data() {
    QTest::addColumn<double>("scale");
    for (const double s : {1.7, 0.8, 0.41}) QTest::addRow("%g", s) << s;
  }
  void aBendThatIsAPlacementLooksTheSame() {
    QFETCH(double, scale);
    const auto picture = waves(300, 240);
    scene::Warp w;
    w.corners = {{0, 0}, {300 * scale, 0}, {300 * scale, 240 * scale}, {0, 240 * scale}};
    scene::Placement at;
    at.scale = scale;
    const base::Size canvas{520, 420};
    const auto bent = test::rendered(sceneWith(picture, w, canvas)), placed = test::rendered(sceneWith(picture, {}, canvas, at));
    double most = 0;
    for (int y = 4; y < int(240 * scale) - 4; ++y) {
      for (int x = 4; x < int(300 * scale) - 4; ++x) {
        most = std::max(most, std::abs(double(bent.at(x, y)[1] - placed.at(x, y)[1])));
        QCOMPARE(bent.at(x, y)[3], 1.f);
      }
    }
    QVERIFY2(most < 0.012, qPrintable(QString::number(most)));
    QVERIFY(bent.at(int(300 * scale) + 3, 50)[3] == 0);
  }
  void perspectivePutsEveryPlaceWhereTheFormulaSays() {
    const auto picture = waves(300, 240);
    scene::Warp w;
    w.corners = {{40, 20}, {470, 60}, {440, 300}, {10, 390}};
    const auto out = test::rendered(sceneWith(picture, w, {500, 420}));
    double most = 0;
    for (int y = 20; y < 220; y += 7) {
      for (int x = 20; x < 280; x += 7) {
        const base::Point to = scene::mapped(w, {300, 240}, {x + 0.0, y + 0.0});
        const int px = int(to.x), py = int(to.y);
        const base::Point back = *render::InverseWarp(w, {300, 240}).at({px + 0.5, py + 0.5});
        const double truth = (128 + 90 * std::sin(back.x / 10.0) * std::cos(back.y / 11.0)) / 255;
        most = std::max(most, std::abs(double(out.at(px, py)[1]) - truth));
      }
    }
    QVERIFY2(most < 0.02, qPrintable(QString::number(most)));
  }
  void theInverseWarpLeadsBack() {
    scene::Warp w = scene::withGrid({}, {1200, 900}, 4, 3);
    w.grid[7] = {w.grid[7].x + 70, w.grid[7].y - 50};
    w.grid[11] = {w.grid[11].x - 40, w.grid[11].y + 60};
    w.tacks = {{{200, 200}, {230, 190}}, {{900, 700}, {880, 720}}, {{600, 100}, {600, 100}}};
    w.corners = {{30, 10}, {1100, 60}, {1180, 880}, {0, 820}};
    QVERIFY(scene::validWarp(w, {1200, 900}).ok());
    const render::InverseWarp way(w, {1200, 900}), far(w, {1200, 900}, 2);
    double most = 0, mostFar = 0;
    for (int y = 10; y < 900; y += 22) {
      for (int x = 10; x < 1200; x += 29) {
        const auto back = way.at(scene::mapped(w, {1200, 900}, {double(x), double(y)}));
        QVERIFY(back.has_value());
        most = std::max(most, std::hypot(back->x - x, back->y - y));
        const auto again = far.at(scene::mapped(w, {1200, 900}, {double(x), double(y)}));
        QVERIFY(again.has_value());
        mostFar = std::max(mostFar, std::hypot(again->x - x, again->y - y));
      }
    }
    QVERIFY2(most < 0.25, qPrintable(QString::number(most)));
    QVERIFY2(mostFar < 1, qPrintable(QString::number(mostFar)));  // a quarter px of a quarter of the size
    // A row of it is the places one by one.
    const base::Affine turned{0.9, 0.2, -0.2, 0.9, 60, 40};
    std::vector<float> rowX(400), rowY(400);
    for (int y = 3; y < 800; y += 97) {
      way.row(turned, 5, y, 400, rowX.data(), rowY.data());
      for (int k = 0; k < 400; ++k) {
        const auto one = way.at(turned.map({5 + k + 0.5, y + 0.5}));
        QCOMPARE(std::isnan(rowX[std::size_t(k)]), !one.has_value());
        if (one) QVERIFY(std::hypot(one->x - double(rowX[std::size_t(k)]), one->y - double(rowY[std::size_t(k)])) < 1e-2);
      }
    }
    QVERIFY(!way.at({-900, -900}));
  }
  void theMaskBendsAlongAndLightIsKept() {
    // A bright picture reduced strongly keeps its mean; a mask's edge goes where the bend takes it.
    const auto picture = test::picture(800, 600, 3, [](int x, int y, int) { return (x / 3 + y / 3) % 2 ? 255 : 0; });
    scene::Warp w;
    w.corners = {{0, 0}, {160, 10}, {150, 118}, {6, 120}};
    scene::Scene s = sceneWith(picture, w, {200, 150});
    const auto small = test::rendered(s);
    double sum = 0;
    for (int y = 30; y < 90; ++y) {
      for (int x = 30; x < 120; ++x) sum += image::linearFromEncoded(double(small.at(x, y)[0]));
    }
    QVERIFY2(std::abs(sum / (60 * 90) - 0.5) < 0.02, qPrintable(QString::number(sum / 5400)));
    scene::Layer l = *s.layers[0];
    l.mask.coverage = test::picture(800, 600, 1, [](int x, int, int) { return x < 400 ? 255 : 0; });
    s.layers = {ref(l)};
    const auto masked = test::rendered(s);
    const base::Point edge = scene::mapped(w, {800, 600}, {400, 300});
    QVERIFY(masked.at(int(edge.x) - 4, int(edge.y))[3] > 0.97f && masked.at(int(edge.x) + 4, int(edge.y))[3] < 0.03f);
  }
  // Coverage by itself is no light: half a px from its edge on, a mask that begins sharply covers one half.
  void coverageAloneIsNotTakenForLight() {
    const auto mask = test::picture(64, 48, 1, [](int x, int, int) { return x < 30 ? 255 : 0; });
    scene::Warp w;
    w.corners = {{0.5, 0}, {64.5, 0}, {64.5, 48}, {0.5, 48}};
    const render::InverseWarp way(w, {64, 48});
    render::Planes out(64 * 48);
    QVERIFY(test::must(render::sampleWarped({nullptr, &mask, {}, &way}, {0, 0, 64, 48}, out)));
    QVERIFY(std::abs(out.alpha()[20 * 64 + 30] - 0.5f) < 2e-3f);
    QVERIFY(std::abs(out.alpha()[20 * 64 + 10] - 1) < 1e-5f && out.alpha()[20 * 64 + 45] == 0);
  }
  void theSameBitsHoweverItIsSplitAndRepaintedWhereItShows() {
    scene::Warp w = scene::withGrid({}, {300, 240}, 3, 3);
    w.grid[5] = {w.grid[5].x + 20, w.grid[5].y + 14};
    const scene::Scene s = sceneWith(waves(300, 240), w, {520, 420}, {40, 30, 1.3, 12, false, false});
    const auto whole = test::rendered(s);
    const base::Rect part{57, 91, 130, 77};
    const auto piece = test::must(render::Renderer().render(s, part, 0, test::here()));
    for (int y = 0; y < part.height; ++y) {
      for (int x = 0; x < part.width; ++x) QCOMPARE(piece.at(x, y)[1], whole.at(part.x + x, part.y + y)[1]);
    }
    scene::Warp more = w;
    more.grid[6].x -= 30;
    const auto bentOtherwise = std::make_shared<const scene::Warp>(more);
    for (const auto& other : {bentOtherwise, std::shared_ptr<const scene::Warp>()}) {
      const scene::Scene t = test::must(scene::apply(s, scene::SetWarp{s.layers.back()->id, other}));
      const auto after = test::rendered(t);
      const auto rects = scene::difference(s, t);
      int differs = 0;
      for (int y = 0; y < 420; ++y) {
        for (int x = 0; x < 520; ++x) {
          if (whole.at(x, y)[3] == after.at(x, y)[3] && whole.at(x, y)[1] == after.at(x, y)[1]) continue;
          ++differs;
          QVERIFY(std::any_of(rects.begin(), rects.end(), [&](const base::Rect& r) { return r.contains(x, y); }));
        }
      }
      QVERIFY(differs > 1000);
    }
  }
};

HSEAM_TEST(WarpedTest);
#include "warped_test.moc"
