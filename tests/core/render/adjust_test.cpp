// Adjustments made ready for many pixels against their definition, and those that are applied together.

#include "core/render/adjust.h"

#include "core/render/adjustment_runs.h"
#include "core/render/lower_layers.h"
#include "core/scene/adjustment_kinds.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

const scene::Adjustment kLevels = scene::Levels{0.04, 0.93, 1.3, 0, 1};
const scene::Adjustment kCurve = scene::Curves{{{0, 0.02}, {0.4, 0.5}, {1, 0.97}}, {{0, 0}, {0.5, 0.6}, {1, 1}}, {}, {}};

render::Planes someColours() {
  test::Noise noise(11);
  render::Planes in(256);
  for (int i = 0; i < 256; ++i) {
    for (int c = 0; c < 4; ++c)
      in.colour(c)[i] = i < 27 ? float((c == 0 ? i % 3 : c == 1 ? i / 3 % 3 : i / 9)) / 2 : float(noise.unit());
  }
  return in;
}

scene::Scene tables() {
  scene::Scene s;
  s.canvas = {300, 200};
  s.layers = {ref(test::pictureLayer(1, test::colours(300, 200, 3))), ref(test::adjustmentLayer(2, kLevels)),
              ref(test::adjustmentLayer(3, kCurve)), ref(test::adjustmentLayer(4, scene::Exposure{0.3})),
              ref(test::adjustmentLayer(5, scene::Saturation{-0.2}))};
  return s;
}

scene::Scene changed(const scene::Scene& s, std::size_t at, void (*change)(scene::Layer&)) {
  scene::Scene out = s;
  scene::Layer l = *s.layers[at];
  change(l);
  out.layers[at] = ref(l);
  return out;
}

}  // namespace

class AdjustTest : public QObject {
  Q_OBJECT
 private slots:
  // The float forms that render follow the definition.
  void renderedNumbersFollowTheirDefinition() {
    const render::Planes in = someColours();
    render::Planes out(256);
    std::vector<scene::Adjustment> all;
    for (const auto& k : scene::adjustmentKinds()) {
      scene::ParametricAdjustment n = scene::parametric(k.id);
      for (std::size_t i = 0; i < n.values.size(); ++i) {
        const auto& f = k.fields[i];
        n.values[i] = std::clamp(f.initial + 0.23 * (f.high - f.low) * (i % 2 ? -1 : 1), f.low, f.high);
      }
      if (!scene::looksAround(scene::Adjustment(n))) all.emplace_back(n);
    }
    QVERIFY(all.size() >= 9);
    scene::Curves lightness;
    lightness.lightness = {{0, 0.05}, {0.4, 0.5}, {1, 0.98}};
    lightness.red = {{0, 0}, {0.5, 0.6}, {1, 1}};
    all.emplace_back(lightness);
    all.emplace_back(scene::TonesToColours{{{0, {0.1, 0, 0.2}}, {0.4, {0.6, 0.2, 0.1}}, {1, {1, 0.95, 0.8}}}});
    for (const auto& a : all) {
      render::BakedAdjustment(a).apply(in, out);
      const scene::AdjustmentFunction truth(a);
      for (int i = 0; i < 256; ++i) {
        const auto want = truth({double(in.colour(0)[i]), double(in.colour(1)[i]), double(in.colour(2)[i])});
        for (int c = 0; c < 3; ++c)
          QVERIFY2(std::abs(double(out.colour(c)[i]) - want[std::size_t(c)]) < 2e-4,
                   qPrintable(QStringLiteral("%1: %2 for %3")
                                  .arg(QLatin1String(scene::adjustmentName(a)))
                                  .arg(out.colour(c)[i])
                                  .arg(want[std::size_t(c)])));
      }
    }
  }
  // Three tables in one differ from the definition as one does.
  void tablesThatFollowEachOtherAreOne() {
    const render::Planes in = someColours();
    render::Planes out(256);
    const std::vector<scene::Adjustment> steps{kLevels, kCurve, scene::Exposure{0.3}};
    render::BakedAdjustment(steps).apply(in, out);
    for (int i = 0; i < 256; ++i) {
      std::array<double, 3> want{double(in.colour(0)[i]), double(in.colour(1)[i]), double(in.colour(2)[i])};
      for (const auto& a : steps) {
        want = scene::AdjustmentFunction(a)(want);
        for (double& v : want) v = std::clamp(v, 0.0, 1.0);
      }
      for (int c = 0; c < 3; ++c) QCOMPARE_LE(std::abs(double(out.colour(c)[i]) - want[std::size_t(c)]), 3e-4);
    }
  }
  void theirRunEndsWhereOneIsMaskedHiddenOrMixes() {
    const scene::Scene s = tables();
    const std::size_t n = s.layers.size();
    QCOMPARE(render::adjustmentRunEnd(s.layers, 1, n), n);
    QCOMPARE(render::tableRunEnd(s.layers, 1, n), std::size_t(4));
    QCOMPARE(render::adjustmentRunEnd(s.layers, 0, n), std::size_t(0));
    for (const auto change : {+[](scene::Layer& l) { l.opacity = 0.5; }, +[](scene::Layer& l) { l.hidden = true; },
                              +[](scene::Layer& l) { l.mode = scene::BlendMode::multiply; },
                              +[](scene::Layer& l) { l.mask.coverage = test::disc(300, 200); }})
      QCOMPARE(render::adjustmentRunEnd(changed(s, 3, change).layers, 1, n), std::size_t(3));
    // What others are confined to acts with those alone.
    QCOMPARE(render::adjustmentRunEnd(changed(s, 3, [](scene::Layer& l) { l.clip = true; }).layers, 1, n), std::size_t(2));
  }
  void nothingIsKeptFromWithinATable() {
    const scene::Scene s = tables();
    const auto weaker = [](scene::Layer& l) { std::get<scene::AdjustmentContent>(l.content).adjustment = scene::Exposure{-0.4}; };
    QCOMPARE(render::sameFromTheBack(s, changed(s, 3, weaker)), std::size_t(1));
    QCOMPARE(render::sameFromTheBack(s, changed(s, 4, [](scene::Layer& l) { l.opacity = 0.3; })), std::size_t(4));
    // It is divided by what no longer belongs to it, and what was kept before is of no use.
    const scene::Scene half = changed(s, 3, [](scene::Layer& l) { l.opacity = 0.5; });
    QCOMPARE(render::sameFromTheBack(half, changed(s, 3, [](scene::Layer& l) { l.opacity = 0.6; })), std::size_t(3));
    const render::LowerLayers backdrop(half, 3, {0, 0, 256, 200}, 0);
    QCOMPARE(backdrop.standsFor(half, 0), std::size_t(3));
    QCOMPARE(backdrop.standsFor(s, 0), std::size_t(0));
  }
  // Over holes the same bits as over a picture without, where it shows.
  void holesChangeNothing() {
    const scene::Scene s = tables();
    const scene::Scene holed = changed(s, 0, [](scene::Layer& l) { l.mask.coverage = test::disc(300, 200); });
    const auto whole = test::rendered(s), part = test::rendered(holed);
    int seen = 0;
    for (int y = 0; y < 200; ++y) {
      for (int x = 0; x < 300; ++x) {
        if (part.at(x, y)[3] < 1) continue;
        ++seen;
        for (int c = 0; c < 3; ++c) QCOMPARE(part.at(x, y)[c], whole.at(x, y)[c]);
      }
    }
    QVERIFY(seen > 5000);
  }
};

HSEAM_TEST(AdjustTest);
#include "adjust_test.moc"
