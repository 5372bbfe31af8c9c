// Every sentence of core/scene/semantics.md under its number, and all of them together against the reference.

#include "core/image/transfer.h"
#include "reference/composite.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

image::TiledImage flat(int w, int h, int r, int g, int b) {
  return test::picture(w, h, 3, [=](int, int, int c) { return c == 0 ? r : (c == 1 ? g : b); });
}

double worst(const scene::Scene& s) {
  const auto mine = test::rendered(s);
  const auto truth = reference::composite(s);
  double most = 0;
  for (std::size_t i = 0; i < truth.size(); ++i) {
    const float* p = mine.samples().data() + i * 4;
    most = std::max(most, std::abs(double(p[3]) - truth[i].alpha));
    if (truth[i].alpha < 1e-3) continue;
    for (std::size_t c = 0; c < 3; ++c) most = std::max(most, std::abs(double(p[c]) - truth[i].colour[c]) * truth[i].alpha);
  }
  return most * 255;
}

}  // namespace

class SemanticsTest : public QObject {
  Q_OBJECT
 private slots:
  void s01_opacityMixesEncodedValues() {
    scene::Scene s;
    s.canvas = {4, 4};
    scene::Layer white = test::pictureLayer(2, flat(4, 4, 255, 255, 255));
    white.opacity = 0.5;
    s.layers = {ref(test::pictureLayer(1, flat(4, 4, 0, 0, 0))), ref(white)};
    QVERIFY(std::abs(test::rendered(s).at(1, 1)[0] - 0.5f) < 1e-6f);
  }
  void s02_partCoverageMixesLight() {
    scene::Scene s;
    s.canvas = {4, 4};
    scene::Layer white = test::pictureLayer(2, flat(4, 4, 255, 255, 255));
    white.mask.coverage = test::picture(4, 4, 1, [](int, int, int) { return 51; });  // 0.2
    s.layers = {ref(test::pictureLayer(1, flat(4, 4, 0, 0, 0))), ref(white)};
    QVERIFY(std::abs(double(test::rendered(s).at(1, 1)[0]) - image::encodedFromLinear(0.2)) < 1e-5);
    s.mixing = scene::Mixing::encoded;
    QVERIFY(std::abs(double(test::rendered(s).at(1, 1)[0]) - 0.2) < 1e-6);
  }
  void s03_emptyBackdropTakesTheSourceItself() {
    // Multiply on nothing shows the source, by the W3C text.
    scene::Scene s;
    s.canvas = {4, 4};
    scene::Layer l = test::pictureLayer(1, flat(4, 4, 100, 150, 200));
    l.mode = scene::BlendMode::multiply;
    l.opacity = 0.5;
    s.layers = {ref(l)};
    const auto out = test::rendered(s);
    QVERIFY(std::abs(out.at(0, 0)[0] - 100 / 255.f) < 1e-6f && std::abs(out.at(0, 0)[3] - 0.5f) < 1e-6f);
  }
  void s04_orderAndHiding() {
    scene::Scene s;
    s.canvas = {4, 4};
    scene::Layer back = test::pictureLayer(1, flat(4, 4, 10, 0, 0)), front = test::pictureLayer(2, flat(4, 4, 0, 20, 0));
    s.layers = {ref(back), ref(front)};
    QCOMPARE(test::rendered(s).at(0, 0)[1], 20 / 255.f);
    front.hidden = true;
    s.layers = {ref(back), ref(front)};
    QCOMPARE(test::rendered(s).at(0, 0)[0], 10 / 255.f);
    s.layers = {};
    QCOMPARE(test::rendered(s).at(0, 0)[3], 0.f);
  }
  void s05_masksMoveWithTheirPictureAndSwitchOff() {
    scene::Scene s;
    s.canvas = {20, 4};
    scene::Layer l = test::pictureLayer(1, flat(10, 4, 200, 200, 200), 6, 0);
    l.mask.coverage = test::picture(10, 4, 1, [](int x, int, int) { return x < 5 ? 0 : 255; });
    s.layers = {ref(l)};
    auto out = test::rendered(s);
    QCOMPARE(out.at(8, 0)[3], 0.f);
    QCOMPARE(out.at(12, 0)[3], 1.f);
    l.mask.enabled = false;
    s.layers = {ref(l)};
    QCOMPARE(test::rendered(s).at(8, 0)[3], 1.f);
  }
  void s06_confinedLayersStayInsideTheirBase() {
    scene::Scene s;
    s.canvas = {20, 4};
    scene::Layer base = test::pictureLayer(2, flat(10, 4, 100, 100, 100), 5, 0);
    scene::Layer over = test::pictureLayer(3, flat(20, 4, 255, 0, 0));
    over.clip = true;
    s.layers = {ref(test::pictureLayer(1, flat(20, 4, 0, 0, 255))), ref(base), ref(over)};
    auto out = test::rendered(s);
    QCOMPARE(out.at(2, 1)[2], 1.f);
    QCOMPARE(out.at(8, 1)[0], 1.f);
    base.hidden = true;
    s.layers = {s.layers[0], ref(base), ref(over)};
    QCOMPARE(test::rendered(s).at(8, 1)[2], 1.f);
  }
  void s07_groupsAreIsolated() {
    // Multiply inside a group does not see what lies below the group.
    scene::Scene s;
    s.canvas = {4, 4};
    scene::Layer inner = test::pictureLayer(3, flat(4, 4, 200, 200, 200));
    inner.mode = scene::BlendMode::multiply;
    scene::Layer group;
    group.id = {2};
    group.content = scene::GroupContent{{ref(inner)}};
    s.layers = {ref(test::pictureLayer(1, flat(4, 4, 100, 100, 100))), ref(group)};
    QCOMPARE(test::rendered(s).at(0, 0)[0], 200 / 255.f);
  }
  static scene::Scene openGroupScene(scene::BlendMode mode, double opacity) {
    scene::Scene s = test::richScene(90, 80, scene::Mixing::linear);
    for (auto& l : s.layers) {
      if (!l->group()) continue;
      scene::Layer open = *l;
      open.mode = mode;
      open.opacity = opacity;
      auto& g = std::get<scene::GroupContent>(open.content);
      g.isolated = false;
      if (mode == scene::BlendMode::normal)
        g.layers.push_back(ref(test::adjustmentLayer(30, scene::Levels{0.1, 0.9, 1.4, 0, 1})));
      l = ref(open);
    }
    return s;
  }
  void s07_openGroupsBeginWithTheBackdrop() {
    // At full strength and without a mask, a group that is not isolated is as if it were not there.
    scene::Scene grouped = openGroupScene(scene::BlendMode::normal, 1), loose = grouped;
    for (std::size_t i = 0; i < grouped.layers.size(); ++i) {
      if (!grouped.layers[i]->group()) continue;
      scene::Layer plain = *grouped.layers[i];
      plain.mask = {};
      grouped.layers[i] = ref(plain);
      loose.layers.erase(loose.layers.begin() + long(i));
      const auto& inner = plain.group()->layers;
      loose.layers.insert(loose.layers.begin() + long(i), inner.begin(), inner.end());
      break;
    }
    QVERIFY(test::rendered(grouped).samples() == test::rendered(loose).samples());
  }
  void s07_openGroupsMatchTheReference() {
    for (const auto mode : {scene::BlendMode::normal, scene::BlendMode::multiply, scene::BlendMode::screen}) {
      for (const double opacity : {1.0, 0.6}) {
        const double w = worst(openGroupScene(mode, opacity));
        QVERIFY2(
            w < 0.5,
            qPrintable(QStringLiteral("%1 at %2: %3 / 255").arg(QLatin1String(scene::blendModeName(mode))).arg(opacity).arg(w)));
      }
    }
  }
  void s07_openGroupsWithinOpenGroups() {
    scene::Scene s = openGroupScene(scene::BlendMode::multiply, 0.8);
    for (auto& l : s.layers) {
      if (!l->group()) continue;
      scene::Layer inner = *l;
      inner.id = {40};
      inner.mode = scene::BlendMode::normal;
      scene::Layer outer = *l;
      std::get<scene::GroupContent>(outer.content).layers = {ref(inner)};
      l = ref(outer);
    }
    QVERIFY2(worst(s) < 0.5, qPrintable(QString::number(worst(s))));
  }
  void s08_adjustmentsKeepAlphaAndSkipNothing() {
    scene::Scene s;
    s.canvas = {20, 4};
    s.layers = {ref(test::pictureLayer(1, flat(10, 4, 100, 100, 100))),
                ref(test::adjustmentLayer(2, scene::Levels{0, 1, 1, 0.5, 1}))};
    const auto out = test::rendered(s);
    QVERIFY(std::abs(out.at(2, 0)[0] - float(0.5 + 0.5 * 100 / 255)) < 1e-4f);
    QCOMPARE(out.at(2, 0)[3], 1.f);
    QCOMPARE(out.at(15, 0)[3], 0.f);
  }
  // A grey value through an adjustment, as rendered.
  static std::array<double, 3> through(const scene::Adjustment& a, int r, int g, int b) {
    scene::Scene s;
    s.canvas = {4, 4};
    s.layers = {ref(test::pictureLayer(1, flat(4, 4, r, g, b))), ref(test::adjustmentLayer(2, a))};
    const auto out = test::rendered(s);
    return {double(out.at(1, 1)[0]), double(out.at(1, 1)[1]), double(out.at(1, 1)[2])};
  }
  void s09_theRgbCurveThenTheChannels() {
    // 102 is 0.4: half of it by the rgb curve, and red less 0.1 by its own; constant outside.
    const auto out = through(scene::Curves{{{0, 0}, {1, 0.5}}, {{0.1, 0}, {0.6, 0.5}}, {}, {{0.3, 0.7}, {1, 1}}}, 102, 102, 102);
    QVERIFY(std::abs(out[0] - 0.1) < 1e-4 && std::abs(out[1] - 0.2) < 1e-4 && std::abs(out[2] - 0.7) < 1e-4);
  }
  void s10_levelsByTheirFormula() {
    const auto out = through(scene::Levels{0.2, 0.8, 2, 0.1, 0.9}, 102, 0, 255);
    QVERIFY(std::abs(out[0] - (0.1 + 0.8 * std::sqrt(1.0 / 3))) < 3e-4);
    QVERIFY(std::abs(out[1] - 0.1) < 2e-5 && std::abs(out[2] - 0.9) < 2e-5);
  }
  void s11_balanceKeepsLumaAndWeighsByTone() {
    // Grey 0.4: darks 0.36, mids 0.48, lights 0.16; only darks and lights lean to red, by opposite amounts.
    const auto out = through(scene::ColourBalance{{1, 0}, {}, {-1, 0}}, 102, 102, 102);
    const double shift = (0.36 - 0.16) * 0.25;
    QVERIFY(std::abs(out[0] - (0.4 + shift)) < 1e-5);
    QVERIFY(std::abs(out[1] - (0.4 - shift * 0.30 / 0.59)) < 1e-5 && std::abs(out[2] - 0.4) < 1e-5);
    QVERIFY(std::abs(0.3 * out[0] + 0.59 * out[1] + 0.11 * out[2] - 0.4) < 1e-5);
  }
  void s11_saturationKeepsLuma() {
    // Grey at −1; twice the distance at +1, luma as it was: (0.6, 0.4, 0.4) has luma 0.46.
    const auto grey = through(scene::Saturation{-1}, 153, 102, 102), twice = through(scene::Saturation{1}, 153, 102, 102);
    for (const double v : grey) QVERIFY(std::abs(v - 0.46) < 1e-5);
    QVERIFY(std::abs(twice[0] - 0.74) < 1e-5 && std::abs(twice[1] - 0.34) < 1e-5 && std::abs(twice[2] - 0.34) < 1e-5);
    // Red cannot get redder: 0.3 + (1 − 0.3)·k with k pulled back to 1 by the clip.
    QVERIFY(std::abs(through(scene::Saturation{2}, 255, 0, 0)[0] - 1) < 1e-5);
  }
  void s11_exposureMultipliesLight() {
    const auto out = through(scene::Exposure{-1}, 188, 255, 0);
    QVERIFY(std::abs(image::linearFromEncoded(out[0]) - image::linearFromEncoded(188 / 255.0) / 2) < 1e-4);
    QVERIFY(std::abs(image::linearFromEncoded(out[1]) - 0.5) < 1e-4 && out[2] == 0);
    QVERIFY(through(scene::Exposure{3}, 188, 255, 0)[0] == 1);
  }
  void s12_wholeMovesCopyAndTurnsKeepLight() {
    scene::Scene s;
    s.canvas = {64, 64};
    scene::Layer l = test::pictureLayer(1, test::colours(40, 40, 3), 7, 9);
    s.layers = {ref(l)};
    const auto source = test::must(image::readFloat(l.picture()->source, 0, {0, 0, 40, 40}));
    const auto out = test::rendered(s);
    for (int i = 0; i < 40; ++i) QCOMPARE(out.at(7 + i, 9 + i)[1], source.at(i, i)[1]);
    // Four quarter turns bring every pixel back; one brings the top left to the top right.
    auto& p = std::get<scene::PictureContent>(l.content).placement;
    p.rotationDeg = 90;
    s.layers = {ref(l)};
    const auto turned = test::rendered(s);
    QVERIFY(std::abs(turned.at(7 + 39, 9)[0] - source.at(0, 0)[0]) < 0.01f);
    QVERIFY(std::abs(turned.at(7 + 39, 9 + 39)[0] - source.at(39, 0)[0]) < 0.01f);
  }
  void allTogetherMatchTheReference_data() {
    QTest::addColumn<int>("mixing");
    QTest::newRow("linear") << int(scene::Mixing::linear);
    QTest::newRow("encoded") << int(scene::Mixing::encoded);
  }
  void allTogetherMatchTheReference() {
    QFETCH(int, mixing);
    const double w = worst(test::richScene(300, 280, scene::Mixing(mixing)));
    QVERIFY2(w < 0.25, qPrintable(QStringLiteral("%1 / 255").arg(w)));
  }
  void everyModeInEveryPlaceMatchesTheReference() {
    for (int m = 0; m < scene::kBlendModeCount; ++m) {
      scene::Scene s = test::richScene(80, 70, scene::Mixing::linear);
      std::vector<scene::LayerRef> layers;
      for (const auto& l : s.layers) {
        scene::Layer copy = *l;
        copy.mode = scene::BlendMode(m);
        layers.push_back(ref(copy));
      }
      s.layers = layers;
      const double w = worst(s);
      QVERIFY2(w < 0.4,
               qPrintable(QStringLiteral("%1: %2 / 255").arg(QLatin1String(scene::blendModeName(scene::BlendMode(m)))).arg(w)));
    }
  }
};
HSEAM_TEST(SemanticsTest);
#include "semantics_test.moc"
