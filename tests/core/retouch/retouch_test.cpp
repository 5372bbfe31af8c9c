#include "core/retouch/retouch.h"

#include <cmath>

#include "core/paint/colour_stroke.h"
#include "core/render/scenes.h"
#include "core/repair/membrane.h"
#include "core/scene/edit.h"
#include "core/scene/up_to.h"
#include "pictures.h"

using namespace hseam;

namespace {

constexpr int kAcross = 240, kDown = 200;

// A weave on a slope of light: what is copied from the left has to become lighter on the right.
double weave(int x, int y, int c) {
  return 40 + 0.5 * x + 14 * std::sin(x * 2 * M_PI / 12) * std::sin(y * 2 * M_PI / 12) + 6 * c;
}

image::TiledImage emptyPainting() {
  const std::array<std::byte, 4> nothing{};
  return image::TiledImage::uniform({kAcross, kDown}, image::PixelFormat::rgba8, nothing, test::memory());
}

image::TiledImage discOfCoverage(double x0, double y0, double r) {
  return test::picture(kAcross, kDown, 1, [=](int x, int y, int) {
    return 255 * std::clamp(r - std::hypot(x + 0.5 - x0, y + 0.5 - y0) + 0.5, 0.0, 1.0);
  });
}

retouch::Stroke strokeAt(double x, double y, double r) {
  return {emptyPainting(),
          discOfCoverage(x, y, r),
          base::Rect{int(x - r) - 1, int(y - r) - 1, int(2 * r) + 3, int(2 * r) + 3}.intersected({0, 0, kAcross, kDown}),
          {}};
}

scene::Scene woven() {
  return test::sceneOf(test::picture(kAcross, kDown, 3, weave));
}

// The root of the mean square between what the painting shows where it covers fully and the weave there, levels.
double offTheWeave(const image::TiledImage& painting) {
  const auto p = test::must(image::read8(painting, 0, {0, 0, kAcross, kDown}));
  double sum = 0, n = 0;
  for (int y = 0; y < kDown; ++y) {
    for (int x = 0; x < kAcross; ++x) {
      if (p.at(x, y)[3] != 255) continue;
      sum += std::pow(double(p.at(x, y)[1]) - weave(x, y, 1), 2), n += 1;
    }
  }
  return std::sqrt(sum / std::max(1.0, n));
}

}  // namespace

class RetouchTest : public QObject {
  Q_OBJECT
 private slots:
  void aMembraneIsHarmonic() {
    // Held at the border by a harmonic function, it becomes that function.
    const auto truth = [](int x, int y) { return 0.01f * float(x) + 0.0004f * float(x * x - y * y); };
    image::Raster<float> v(90, 70, 1);
    image::Raster<std::uint8_t> holds(90, 70, 1, std::uint8_t(repair::Hold::fixed));
    for (int y = 0; y < 70; ++y) {
      for (int x = 0; x < 90; ++x) {
        *v.at(x, y) = truth(x, y);
        if (std::hypot(x - 45, y - 35) < 30) *holds.at(x, y) = std::uint8_t(repair::Hold::loose), *v.at(x, y) = 99;
      }
    }
    repair::relax(v, holds);
    double worst = 0;
    for (int y = 0; y < 70; ++y) {
      for (int x = 0; x < 90; ++x) worst = std::max(worst, double(std::abs(*v.at(x, y) - truth(x, y))));
    }
    QVERIFY2(worst < 0.01, qPrintable(QString::number(worst)));  // of 4 from end to end
  }
  void whatIsCopiedTakesTheLight() {
    // From 96 px further left: eight whole threads, and 48 levels darker.
    const auto stroke = strokeAt(170, 100, 30);
    const base::Affine fromLeft{1, 0, 0, 1, -96, 0};
    const auto plain = test::must(paint::laidOn(stroke.before, stroke.before, stroke.coverage,
                                                test::must(retouch::shownOn(woven(), fromLeft, stroke.touched, test::here())),
                                                stroke.touched, test::here()));
    QVERIFY2(std::abs(offTheWeave(plain) - 48) < 1, qPrintable(QString::number(offTheWeave(plain))));
    const auto lit = test::must(retouch::copiedInLight(stroke, woven(), fromLeft, woven(), test::here(), {}));
    QVERIFY2(offTheWeave(lit) < 1, qPrintable(QString::number(offTheWeave(lit))));
    // Outside the stroke nothing was painted.
    QCOMPARE(int(test::must(image::read8(lit, 0, {100, 100, 1, 1})).at(0, 0)[3]), 0);
  }
  void copiesAreTurnedScaledAndMirrored() {
    // Smooth, so that what is interpolated can be told.
    const auto smooth = [](double x, double y) { return 128 + 50 * std::sin(x * 0.11) + 40 * std::cos(y * 0.09); };
    const auto s = test::sceneOf(test::picture(kAcross, kDown, 3, [&](int x, int y, int) { return smooth(x + 0.5, y + 0.5); }));
    for (const base::Affine& m : {base::Affine{-1, 0, 0, 1, 230, 0}, base::Affine{0.8, -0.4, 0.4, 0.8, 20, -5},
                                  base::Affine{0.5, 0, 0, 0.5, 31, 17}, base::Affine{1, 0, 0, 1, 3.3, -7.6}}) {
      const base::Rect area{80, 70, 60, 50};
      const auto got = test::must(retouch::shownOn(s, m, area, test::here()));
      double worst = 0;
      for (int y = 0; y < area.height; ++y) {
        for (int x = 0; x < area.width; ++x) {
          const base::Point p = m.map({area.x + x + 0.5, area.y + y + 0.5});
          worst = std::max(worst, std::abs(255 * double(got.at(x, y)[1]) - smooth(p.x, p.y)));
        }
      }
      QVERIFY2(worst < 1.6, qPrintable(QString::number(worst)));
    }
    // Beyond the canvas there is nothing to copy.
    const auto beyond = test::must(retouch::shownOn(s, base::Affine{1, 0, 0, 1, 500, 0}, {80, 70, 5, 5}, test::here()));
    QVERIFY(beyond.at(2, 2)[3] == 0);
  }
  void aFleckIsMended() {
    const auto flecked = test::sceneOf(test::picture(
        kAcross, kDown, 3, [](int x, int y, int c) { return std::hypot(x - 120, y - 100) < 9 ? 250 : weave(x, y, c); }));
    const auto stroke = strokeAt(120, 100, 14);
    const auto got = test::must(retouch::mended(stroke, flecked, 1, test::here(), {}));
    QVERIFY2(offTheWeave(got) < 6, qPrintable(QString::number(offTheWeave(got))));  // a smooth patch is off by 7, the fleck by 90
    // All of the scene is stroke: there is nothing to mend it from.
    retouch::Stroke all{
        emptyPainting(), image::uniformCoverage({kAcross, kDown}, 255, test::memory()), {0, 0, kAcross, kDown}, {}};
    QCOMPARE(int(retouch::mended(all, flecked, 1, test::here(), {}).error().code), int(base::Code::invalid));
  }
  void upToALayer() {
    scene::Scene s = woven();
    const auto add = [&](std::uint64_t id, std::uint64_t parent, bool clip) {
      scene::Layer l = test::pictureLayer(id, emptyPainting());
      l.clip = clip;
      s = test::must(scene::apply(s, scene::AddLayer{l, {parent}, -1}));
    };
    add(2, 0, false), add(3, 0, false);
    s = test::must(scene::apply(s, scene::GroupLayers{{{2}, {3}}, {4}, "two"}));
    add(5, 0, true), add(6, 0, false);
    const auto seen = [](const scene::Scene& scene) {
      std::vector<std::uint64_t> ids;
      std::function<void(const std::vector<scene::LayerRef>&)> walk = [&](const std::vector<scene::LayerRef>& list) {
        for (const auto& l : list) {
          if (l->opacity == 0) continue;
          ids.push_back(l->id.value);
          if (l->group()) walk(l->group()->layers);
        }
      };
      walk(scene.layers);
      return ids;
    };
    QCOMPARE(seen(scene::upTo(s, {2})), (std::vector<std::uint64_t>{1, 4, 2, 5}));
    QCOMPARE(seen(scene::upTo(s, {4})), (std::vector<std::uint64_t>{1, 4, 2, 3, 5}));
    QCOMPARE(seen(scene::upTo(s, {1})), (std::vector<std::uint64_t>{1}));
    QCOMPARE(seen(scene::upTo(s, {99})).size(), std::size_t(6));
  }
};
HSEAM_TEST(RetouchTest);
#include "retouch_test.moc"
