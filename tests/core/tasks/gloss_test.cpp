#include "core/tasks/gloss.h"

#include <cmath>

#include "core/render/scenes.h"

using namespace hseam;

// A pane on a grey subject, held against what the place shows on either side.
class GlossTest : public QObject {
  Q_OBJECT

  // Red at the left, blue at the right, darker downwards; a grey subject in the middle.
  static scene::Scene standing() {
    scene::Scene s;
    s.canvas = {300, 200};
    const auto place = test::picture(300, 200, 3, [](int x, int y, int c) {
      return c == 0 ? (x < 150 ? 220.0 : 20.0) : (c == 2 ? (x < 150 ? 20.0 : 220.0) : 200.0 - y);
    });
    const auto subject = test::picture(100, 160, 3, [](int, int, int) { return 60.0; });
    s.layers = {test::ref(test::pictureLayer(1, place)), test::ref(test::pictureLayer(2, subject, 100, 20))};
    return s;
  }
  static image::TiledImage pane() {
    return test::picture(100, 160, 1, [](int x, int y, int) { return x >= 20 && x < 80 && y >= 30 && y < 90 ? 255.0 : 0; });
  }
  static const float* at(const image::Raster<float>& r, int x, int y) { return r.at(x, y); }

 private slots:
  void anUprightPaneMirrorsLeftAndRightSwapped() {
    const scene::Scene s = standing();
    const auto made = test::must(tasks::glossed(s, {2}, pane(), {false, 3, 0, 1}, test::here(), {}));
    const scene::Scene then = test::must(scene::apply(s, made.edit));
    QCOMPARE(then.layers.size(), std::size_t(3));
    const scene::Layer& gloss = *scene::findLayer(then, made.layer);
    QVERIFY(gloss.clip && gloss.mode == scene::BlendMode::screen && gloss.picture()->byHand);
    const auto shown = test::rendered(then), before = test::rendered(s);
    // Left of the pane's middle the blue of the right is seen, right of it the red of the left.
    const float *left = shown.at(130, 80), *right = shown.at(170, 80);
    QVERIFY(left[2] > left[0] + 0.3f && right[0] > right[2] + 0.3f);
    // Outside of the pane nothing changes.
    for (const auto& [x, y] : {std::pair(105, 80), {150, 150}, {20, 20}, {280, 190}}) {
      for (int c = 0; c < 3; ++c) QVERIFY(std::abs(shown.at(x, y)[c] - before.at(x, y)[c]) < 1e-6f);
    }
  }
  void whatLiesFlatMirrorsUpsideDown() {
    const scene::Scene s = standing();
    const auto made = test::must(tasks::glossed(s, {2}, pane(), {true, 1, 0, 1}, test::here(), {}));
    const auto shown = test::rendered(test::must(scene::apply(s, made.edit)));
    // Green falls downwards in the place, so it rises in the mirror; left stays left.
    QVERIFY(shown.at(130, 105)[1] > shown.at(130, 55)[1] + 0.1f);
    QVERIFY(shown.at(125, 80)[0] > shown.at(125, 80)[2] + 0.3f);
  }
  void roughnessBlursAndStrengthWeakens() {
    const scene::Scene s = standing();
    const auto steep = [&](double roughness, double strength) {
      const auto made = test::must(tasks::glossed(s, {2}, pane(), {false, 3, roughness, strength}, test::here(), {}));
      const auto shown = test::rendered(test::must(scene::apply(s, made.edit)));
      return double(shown.at(147, 80)[2]) - double(shown.at(153, 80)[2]);
    };
    QVERIFY(steep(0, 1) > 0.4 && steep(10, 1) < 0.6 * steep(0, 1));
    QVERIFY(std::abs(steep(0, 0.3) / steep(0, 1) - 0.3) < 0.02);
  }
  void whatCannotBeIsSaid() {
    const scene::Scene s = standing();
    const auto code = [&](scene::LayerId of, const image::TiledImage& part, const tasks::GlossOptions& o) {
      return tasks::glossed(s, of, part, o, test::here(), {}).error().code;
    };
    QCOMPARE(code({9}, pane(), {}), base::Code::notFound);
    QCOMPARE(code({2}, image::uniformCoverage({5, 5}, 255, test::memory()), {}), base::Code::conflict);
    QCOMPARE(code({2}, image::uniformCoverage({100, 160}, 0, test::memory()), {}), base::Code::invalid);
    QCOMPARE(code({2}, pane(), {false, 0.5, 4, 0.3}), base::Code::invalid);
  }
};

HSEAM_TEST(GlossTest);
#include "gloss_test.moc"
