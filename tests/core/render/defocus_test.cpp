// Out of focus, against the disc and the polygon that it must be.

#include "one_effect.h"

using namespace hseam;
using scene::with;
using test::effect;
using test::grey;
using test::light;
using test::ref;
using test::shown;

class DefocusTest : public QObject {
  Q_OBJECT
 private slots:
  void aPointBecomesADisc_data() {
    QTest::addColumn<double>("radius");
    for (const double r : {3.0, 9.0, 15.5, 30.0, 70.0}) QTest::addRow("%g", r) << r;
  }
  void aPointBecomesADisc() {
    QFETCH(double, radius);
    // A lamp of 8 × 8 px: what arrives is its light, over the disc's area.
    const auto n = with(with(scene::parametric(scene::AdjustmentId::defocus), "radius", radius), "glow", 0);
    const auto out = shown(grey(400, 400, [](int x, int y) { return x >= 196 && x < 204 && y >= 196 && y < 204 ? 255 : 0; }), n);
    double sum = 0, inside = 0;
    for (int y = 0; y < 400; ++y) {
      for (int x = 0; x < 400; ++x) sum += light(out, x, y);
    }
    QVERIFY2(std::abs(sum - 64) < 1.0, qPrintable(QString::number(sum)));
    inside = light(out, 200, 200);
    if (radius > 8)
      QVERIFY2(std::abs(inside - 64 / (M_PI * radius * radius)) < 0.03 * inside, qPrintable(QString::number(inside)));
    // Flat within, and gone outside, but for the lamp's own size.
    if (radius > 12) {
      QVERIFY(std::abs(light(out, 200 + int(radius) - 10, 200) - inside) < 0.06 * inside);
      QVERIFY(light(out, 200 + int(radius) + 9, 200) < 0.02 * inside);
    }
  }
  void aStepBecomesADiscsIntegral_data() {
    QTest::addColumn<double>("radius");
    for (const double r : {4.0, 9.9, 12.0, 20.0, 47.0, 70.0}) QTest::addRow("%g", r) << r;
  }
  // Light over an edge, as much as the part of the disc that lies beyond it: what is laid on half the resolution spreads neither
  // more nor less.
  void aStepBecomesADiscsIntegral() {
    QFETCH(double, radius);
    const auto n = with(with(scene::parametric(scene::AdjustmentId::defocus), "radius", radius), "glow", 0);
    const auto out = shown(grey(401, 30, [](int x, int) { return x < 201 ? 188 : 0; }), n);
    const double full = image::linearFromEncoded(188 / 255.0);
    double most = 0;
    for (int x = 80; x < 320; ++x) {
      const double t = std::clamp((x + 0.5 - 201) / radius, -1.0, 1.0);
      const double truth = full * (std::acos(t) - t * std::sqrt(1 - t * t)) / M_PI;
      most = std::max(most, std::abs(light(out, x, 15) - truth));
    }
    QVERIFY2(most < 0.009 * full, qPrintable(QString::number(most / full)));
  }
  // Blurred parts of a picture fit each other wherever they were divided.
  void aWideDiscIsTheSameHoweverItIsSplit() {
    scene::Scene s;
    s.canvas = {611, 403};
    const auto n = with(scene::parametric(scene::AdjustmentId::defocus), "radius", 27);
    s.layers = {ref(test::pictureLayer(1, test::colours(611, 403, 3))), ref(effect(2, n))};
    render::Renderer renderer;
    const auto whole = test::must(renderer.render(s, base::Rect::of(s.canvas), 0, test::here()));
    const base::Rect part{213, 101, 150, 130};
    const auto alone = test::must(renderer.render(s, part, 0, test::here()));
    for (int y = 0; y < part.height; ++y) {
      for (int x = 0; x < part.width; ++x) {
        for (int c = 0; c < 3; ++c) QCOMPARE_LE(std::abs(alone.at(x, y)[c] - whole.at(part.x + x, part.y + y)[c]), 2e-5f);
      }
    }
    // Over the border of two blocks there is no step that the neighbours do not have.
    const auto slope = [&](int x, int y) { return std::abs(whole.at(x + 1, y)[0] - whole.at(x, y)[0]); };
    for (int y = 20; y < 380; ++y) QCOMPARE_LE(slope(255, y), std::max(slope(253, y), slope(257, y)) + 2e-3f);
  }
  void bladesMakeAPolygonAndGlowKeepsLampsBright() {
    const auto lamp = grey(300, 300, [](int x, int y) { return std::hypot(x - 149.5, y - 149.5) < 5 ? 255 : 0; });
    auto n = scene::parametric(scene::AdjustmentId::defocus);
    n.values = {40, 6, 0, 0, 0, 0, 0, 0};
    const auto hexagon = shown(lamp, n);
    // A hexagon with a corner to the right: at its height beside it lies cos 30° of the way.
    QVERIFY(light(hexagon, 150 + 32, 150) > 0.5 * light(hexagon, 150, 150));
    QVERIFY(light(hexagon, 150, 150 + 39) < 0.1 * light(hexagon, 150, 150));
    n.values = {40, 6, 0, 1, 0, 0, 0, 0};
    QVERIFY(light(shown(lamp, n), 150, 150) > 5 * light(hexagon, 150, 150));
  }
};

HSEAM_TEST(DefocusTest);
#include "defocus_test.moc"
