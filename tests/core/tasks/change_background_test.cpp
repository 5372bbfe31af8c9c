#include "core/tasks/change_background.h"

#include <cmath>

#include "core/matte/cut_recipe.h"
#include "core/measure/sharpness.h"
#include "core/render/scenes.h"

using namespace hseam;

class ChangeBackgroundTest : public QObject {
  Q_OBJECT

  static bool inside(int x, int y) { return std::hypot(x - 200.0, y - 170.0) < 90; }
  // A round thing on paper, a background of another size and colour, and another picture on top of that.
  static scene::Scene workshop() {
    scene::Scene s;
    s.canvas = {400, 320};
    const auto paper = test::picture(400, 320, 3, [](int x, int y, int c) {
      return inside(x, y) ? (c == 0 ? 190.0 : 70.0) + (x * 13 + y * 7) % 17 : 225.0 + (x * 5 + y * 11) % 6;
    });
    const auto background = test::picture(
        600, 300, 3, [](int x, int y, int c) { return 60 + 0.1 * x + 0.2 * y + (c == 2 ? 50 : 0) + (x * 7 + y * 3) % 21; });
    const auto old = test::picture(400, 320, 3, [](int x, int, int) { return 90 + x % 40; });
    s.layers = {test::ref(test::pictureLayer(1, old)), test::ref(test::pictureLayer(2, paper)),
                test::ref(test::pictureLayer(3, background))};
    return s;
  }

 private slots:
  void theSubjectIsCutAndTheBackgroundLiesBehind() {
    const scene::Scene s = workshop();
    const auto made = test::must(tasks::changeBackground(s, {2}, {3}, {false}, test::here(), {}));
    QVERIFY(made.cut && made.brought.steps.empty());
    const scene::Scene after = test::must(scene::apply(s, made.edit));
    QCOMPARE(scene::positionOf(after, {3})->index + 1, scene::positionOf(after, {2})->index);
    QVERIFY(scene::findLayer(after, {1})->hidden && !scene::findLayer(after, {3})->hidden);
    // It fills the canvas: 320 / 300 of its size, the middle in the middle.
    const auto& at = scene::findLayer(after, {3})->picture()->placement;
    QVERIFY(std::abs(at.scale - 320.0 / 300) < 1e-9 && std::abs(at.x - (400 - 640) / 2.0) < 1 && std::abs(at.y) < 1);
    const auto mask = test::must(image::read8(scene::findLayer(after, {2})->mask.coverage, 0, {0, 0, 400, 320}));
    double same = 0;
    for (int y = 0; y < 320; ++y) {
      for (int x = 0; x < 400; ++x) same += (*mask.at(x, y) > 127) == inside(x, y);
    }
    QVERIFY2(same / (400 * 320) > 0.985, qPrintable(QString::number(same / (400 * 320))));
    // How the cut was made is kept with it.
    QVERIFY(matte::cutRecipeFrom(scene::findLayer(after, {2})->picture()->cutout->recipe).encodedShare.has_value());
  }
  void theBackgroundIsBroughtToTheSubjectAndNotTheOtherWayRound() {
    const scene::Scene s = workshop();
    const auto made = test::must(tasks::changeBackground(s, {2}, {3}, {true}, test::here(), {}));
    QVERIFY(made.brought.after >= made.brought.before);
    const scene::Scene after = test::must(scene::apply(s, made.edit));
    // Nothing lies over the subject, or is confined to it, that was not there.
    const auto to = *scene::positionOf(after, {2});
    QCOMPARE(std::size_t(to.index) + 1, after.layers.size());
  }
  void theBackgroundIsAsFarOutOfFocusAsTheOldOne() {
    // Squares whose edges are blurred by 4 px behind the subject, by 1 px in the background, which is shown at 320 / 300 of its
    // size.
    const auto squares = [](double x, double sigma) {
      double v = 0;
      for (int k = -1; k < 14; ++k) v += (k % 2 ? 1 : -1) * 0.5 * std::erfc((k * 50 - x) / (sigma * std::sqrt(2.0)));
      return 130 + 80 * v;
    };
    scene::Scene s;
    s.canvas = {400, 320};
    scene::Layer subject = test::pictureLayer(1, test::picture(400, 320, 3, [&](int x, int y, int) {
                                                return inside(x, y) ? 120.0 + (x * 13 + y * 7) % 9 : squares(x + 0.5, 4);
                                              }));
    subject.mask.coverage = test::picture(400, 320, 1, [](int x, int y, int) { return inside(x, y) ? 255.0 : 0.0; });
    s.layers = {
        test::ref(test::pictureLayer(2, test::picture(600, 300, 3, [&](int x, int, int) { return squares(x + 0.5, 1); }))),
        test::ref(subject)};
    const auto made = test::must(tasks::changeBackground(s, {1}, {2}, {true}, test::here(), {}));
    const double wanted = std::sqrt(16 - std::pow(320.0 / 300, 2));
    QVERIFY2(std::abs(made.blurredPx / wanted - 1) < 0.1, qPrintable(QString::number(made.blurredPx)));
    // What it shows then is as blurred as the old background.
    scene::Scene after = test::must(scene::apply(s, made.edit));
    std::erase_if(after.layers,
                  [](const scene::LayerRef& l) { return l->id.value != 2 && l->name.rfind("out of focus", 0) != 0; });
    QCOMPARE(after.layers.size(), std::size_t(2));
    const auto seen = test::rendered(after);
    const auto blur = measure::sharpnessOf({seen, measure::inside(seen, 0.98f, 0)}).typical;
    QVERIFY2(blur.available && std::abs(blur.value / 4 - 1) < 0.2, qPrintable(QString::number(blur.value)));
    // A background that is softer already is left as it is.
    scene::Scene other = s;
    other.layers = {
        test::ref(test::pictureLayer(2, test::picture(600, 300, 3, [&](int x, int, int) { return squares(x + 0.5, 6); }))),
        test::ref(subject)};
    QCOMPARE(test::must(tasks::changeBackground(other, {1}, {2}, {true}, test::here(), {})).blurredPx, 0.0);
  }
  void whatIsCutOutStaysAsItIs() {
    scene::Scene s = workshop();
    const auto mask = test::picture(400, 320, 1, [](int x, int y, int) { return inside(x, y) ? 255.0 : 0.0; });
    s = test::must(scene::apply(s, scene::SetMask{{2}, mask, "painted"}));
    const auto made = test::must(tasks::changeBackground(s, {2}, {3}, {false}, test::here(), {}));
    QVERIFY(!made.cut);
    const scene::Scene after = test::must(scene::apply(s, made.edit));
    QCOMPARE(scene::findLayer(after, {2})->mask.coverage.stamp(), scene::findLayer(s, {2})->mask.coverage.stamp());
    QCOMPARE(int(tasks::changeBackground(s, {2}, {2}, {}, test::here(), {}).error().code), int(base::Code::invalid));
    QCOMPARE(int(tasks::changeBackground(s, {2}, {9}, {}, test::here(), {}).error().code), int(base::Code::notFound));
  }
  void recipesOfCutsAreReadBack() {
    const auto again = [](const matte::CutRecipe& r) { return matte::cutRecipeFrom(matte::toText(r)); };
    QVERIFY(*again({24.4, 0.25}).bandWidthPx == 24 && *again({24, 0.25}).encodedShare == 0.25);
    QVERIFY(!again({}).bandWidthPx && !again({}).encodedShare && again({.extends = true}).extends);
    for (const char* broken : {"", "[]", "{\"codes\":\"a\",\"band_width_px\":{},\"extends\":3}", "{"})
      QVERIFY(!matte::cutRecipeFrom(broken).encodedShare && !matte::cutRecipeFrom(broken).extends);
  }
};
HSEAM_TEST(ChangeBackgroundTest);
#include "change_background_test.moc"
