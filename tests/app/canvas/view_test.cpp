// What the canvas makes of a scene and a view: values in, values out.

#include "app/canvas/view.h"

#include <set>

#include "core/image/transfer.h"
#include "core/render/scenes.h"

using namespace hseam;
using namespace hseam::app;

namespace {

image::Raster<float> pixel(float r, float g, float b, float a) {
  image::Raster<float> p(1, 1, 4);
  p.at(0, 0)[0] = r, p.at(0, 0)[1] = g, p.at(0, 0)[2] = b, p.at(0, 0)[3] = a;
  return p;
}
QRgb shown(const image::Raster<float>& p, const View& v, int x = 0, int y = 0) {
  return toScreen(p, x, y, v).pixel(0, 0);
}

View onFlat(double r, double g, double b) {
  View v;
  v.ground = {Ground::Kind::flat, {r, g, b}};
  return v;
}

scene::Layer cutLayer() {
  scene::Layer l = test::pictureLayer(3, test::colours(80, 60, 1), 10, 20);
  l.mask.coverage = test::disc(80, 60);
  auto& cutout = std::get<scene::PictureContent>(l.content).cutout.edit();
  cutout.alpha = l.mask.coverage;
  cutout.clean = test::colours(80, 60, 9);
  l.opacity = 0.4;
  l.mode = scene::BlendMode::multiply;
  l.hidden = true;
  return l;
}

}  // namespace

class ViewTest : public QObject {
  Q_OBJECT
 private slots:
  void coveredPixelsAreShownAsTheyAre() {
    QCOMPARE(shown(pixel(0.2f, 0.4f, 0.6f, 1), onFlat(1, 1, 1)), qRgb(51, 102, 153));
    QCOMPARE(shown(pixel(1.5f, -1, 0.5f, 1), {}), qRgb(255, 0, 128));  // and clamped
  }
  void theGroundShinesThroughAsLightDoes() {
    const QRgb half = shown(pixel(0, 0, 0, 0.5f), onFlat(1, 1, 1));
    QCOMPARE(qRed(half), int(std::lround(255 * image::encodedFromLinear(0.5))));  // 188, not 128
    QCOMPARE(shown(pixel(0.3f, 0.3f, 0.3f, 0), onFlat(0, 0.5, 1)), qRgb(0, 128, 255));
  }
  void wovenMeansNothingAndIsNeutral() {
    int lowest = 255, highest = 0;
    for (int y = 0; y < 8; ++y) {
      for (int x = 0; x < 8; ++x) {
        const QRgb c = shown(pixel(0, 0, 0, 0), {}, x, y);
        QVERIFY(qRed(c) == qGreen(c) && qGreen(c) == qBlue(c));
        lowest = std::min(lowest, qRed(c)), highest = std::max(highest, qRed(c));
      }
    }
    QVERIFY(highest - lowest >= 12 && highest - lowest < 60);  // seen, but quiet
    // The weave does not depend on how the picture was cut into tiles.
    QCOMPARE(toScreen(image::Raster<float>(300, 4, 4), 0, 0, {}).pixel(260, 2), shown(pixel(0, 0, 0, 0), {}, 260, 2));
  }
  void greyEyesKeepLightness() {
    View v;
    v.eyes = Eyes::grey;
    const QRgb c = shown(pixel(1, 0, 0, 1), v);
    QCOMPARE(qRed(c), qBlue(c));
    QCOMPARE(qRed(c), int(std::lround(255 * image::encodedFromLinear(0.2126))));
  }
  void hueEyesFlattenValues() {
    View v;
    v.eyes = Eyes::hue;
    // Two greys of any lightness look the same; two casts do not, however dark they are.
    QCOMPARE(shown(pixel(0.1f, 0.1f, 0.1f, 1), v), shown(pixel(0.9f, 0.9f, 0.9f, 1), v));
    const QRgb warm = shown(pixel(0.12f, 0.1f, 0.08f, 1), v), cold = shown(pixel(0.08f, 0.1f, 0.12f, 1), v);
    QVERIFY(qRed(warm) - qBlue(warm) > 60 && qBlue(cold) - qRed(cold) > 60);
  }
  void zonesAreElevenGreys() {
    View v;
    v.eyes = Eyes::zones;
    std::set<int> greys;
    for (int k = 0; k <= 255; ++k) greys.insert(qRed(shown(pixel(float(k) / 255, float(k) / 255, float(k) / 255, 1), v)));
    QCOMPARE(greys.size(), std::size_t(11));
    QCOMPARE(qRed(shown(pixel(0.5f, 0.44f, 0.47f, 1), v)), int(std::lround(255 * 0.4663)));  // about L* 50
  }
  void theDifferenceIsWhatChanged() {
    image::Raster<float> a(2, 1, 4, 1.f), b = a;
    a.at(0, 0)[0] = 0.5f, b.at(0, 0)[0] = 0.4f;
    differ(a, b, 4);
    QVERIFY(std::abs(a.at(0, 0)[0] - 0.4f) < 1e-5f && a.at(0, 0)[1] == 0 && a.at(1, 0)[0] == 0);
  }
  void oneLayerIsShownInItsOwnPixelsOnItsOwn() {
    scene::Scene s;
    s.canvas = {300, 200};
    s.layers = {test::ref(test::pictureLayer(1, test::colours(300, 200, 4))), test::ref(cutLayer())};
    View v;
    v.onlyLayer = {3};
    const scene::Scene alone = sceneFor(s, v);
    QCOMPARE(alone.canvas, base::Size({80, 60}));
    QCOMPARE(alone.layers.size(), std::size_t(1));
    const scene::Layer& l = *alone.layers[0];
    QVERIFY(!l.hidden && l.opacity == 1 && l.mode == scene::BlendMode::normal && l.mask.acts());
    QVERIFY(l.picture()->placement == scene::Placement{});
    QCOMPARE(l.picture()->shown().stamp(), l.picture()->cutout->clean.stamp());
    v.original = true;
    QCOMPARE(sceneFor(s, v).layers[0]->picture()->shown().stamp(), l.picture()->source.stamp());
    v.uncut = true;
    QVERIFY(!sceneFor(s, v).layers[0]->mask.acts());
    QVERIFY(layerToShown(*s.layers[1], v) == base::Affine{});
    v.onlyLayer = {};
    QCOMPARE(layerToShown(*s.layers[1], v).map({0, 0}), base::Point({10, 20}));
  }
  void theMaskAloneIsItsCoverageInGrey() {
    scene::Scene s;
    s.canvas = {300, 200};
    s.layers = {test::ref(cutLayer())};
    View v;
    v.onlyLayer = {3};
    v.maskAlone = true;
    const auto out = test::rendered(sceneFor(s, v));
    const auto mask = test::must(image::readFloat(s.layers[0]->mask.coverage, 0, {0, 0, 80, 60}));
    for (int i = 0; i < 60; ++i) QVERIFY(std::abs(out.at(i, i)[1] - *mask.at(i, i)) < 1e-4f);
  }
  void ghostsAreSeenAtHalfStrengthAtAnyDepth() {
    scene::Layer inner = test::pictureLayer(5, test::colours(50, 50, 2));
    scene::Layer group;
    group.id = {4};
    group.name = "group";
    group.content = scene::GroupContent{{test::ref(inner)}};
    scene::Scene s;
    s.canvas = {100, 100};
    s.layers = {test::ref(test::pictureLayer(1, test::colours(100, 100, 1))), test::ref(group)};
    View v;
    v.ghosts = {{5}};
    const scene::Scene ghosted = sceneFor(s, v);
    QCOMPARE(scene::findLayer(ghosted, {5})->opacity, 0.5);
    QCOMPARE(scene::findLayer(s, {5})->opacity, 1.0);
    QCOMPARE(ghosted.layers[0], s.layers[0]);
  }
};
HSEAM_TEST(ViewTest);
#include "view_test.moc"
