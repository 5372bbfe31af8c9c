// What looks around, against what is known of it: widths, areas, deviations, and the same bits however an area is split.

#include "core/image/transfer.h"
#include "core/render/adjust.h"
#include "one_effect.h"

using namespace hseam;
using test::effect;
using test::grey;
using test::light;
using test::ref;
using test::shown;

namespace {

double deviationOf(const image::Raster<float>& r, const base::Rect& area, int channel = 0) {
  double sum = 0, squares = 0;
  for (int y = area.y; y < area.bottom(); ++y) {
    for (int x = area.x; x < area.right(); ++x) {
      const double v = double(r.at(x, y)[channel]);
      sum += v, squares += v * v;
    }
  }
  const double n = double(area.width) * area.height;
  return std::sqrt(squares / n - sum / n * sum / n);
}

}  // namespace

class EffectsTest : public QObject {
  Q_OBJECT
 private slots:
  void gaussianHasItsSpread_data() {
    QTest::addColumn<double>("sigma");
    for (const double sigma : {1.0, 3.0, 8.0, 20.0, 45.0}) QTest::addRow("%g", sigma) << sigma;
  }
  // A step of light becomes the normal distribution's integral.
  void gaussianHasItsSpread() {
    QFETCH(double, sigma);
    const auto out = shown(grey(500, 40, [](int x, int) { return x < 250 ? 188 : 0; }),
                           with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", sigma));
    const double full = image::linearFromEncoded(188 / 255.0);
    double most = 0;
    for (int x = 60; x < 440; ++x) {
      const double truth = full * 0.5 * std::erfc((x + 0.5 - 250) / (sigma * std::sqrt(2.0)));
      most = std::max(most, std::abs(light(out, x, 20) - truth));
    }
    QVERIFY2(most < 0.009 * full, qPrintable(QString::number(most / full)));
  }
  void motionSpreadsAlongItsLineOnly() {
    auto n = scene::parametric(scene::AdjustmentId::motion);
    n.values = {30, 90};
    const auto out = shown(grey(200, 200, [](int x, int y) { return x >= 98 && x < 102 && y >= 98 && y < 102 ? 255 : 0; }), n);
    QVERIFY(std::abs(light(out, 100, 100) - 4.0 / 30) < 0.01);
    QVERIFY(std::abs(light(out, 100, 110) - 4.0 / 30) < 0.01);
    QVERIFY(light(out, 100, 119) < 0.01 && light(out, 104, 100) < 0.01);
  }
  // A picture that fills the canvas stays opaque and keeps its light at the border.
  void theCanvassBorderRepeats() {
    using scene::AdjustmentId;
    for (const AdjustmentId id : {AdjustmentId::gaussian, AdjustmentId::defocus, AdjustmentId::motion}) {
      const auto out = shown(grey(120, 90, [](int, int) { return 150; }), with(scene::parametric(id),
                                                                               id == AdjustmentId::gaussian ? "sigma"
                                                                               : id == AdjustmentId::motion ? "length"
                                                                                                            : "radius",
                                                                               12));
      for (const auto& [x, y] : {std::pair(0, 0), {119, 0}, {0, 89}, {60, 45}}) {
        QVERIFY(std::abs(out.at(x, y)[0] - 150.f / 255) < 1e-3f);
        QCOMPARE(out.at(x, y)[3], 1.f);
      }
    }
  }
  // Confined to a cut-out, a blur softens its coverage and draws no colour from beyond it.
  void aConfinedBlurSoftensTheEdge() {
    scene::Scene s;
    s.canvas = {200, 100};
    scene::Layer subject = test::pictureLayer(
        2, test::picture(200, 100, 3, [](int x, int, int c) { return x < 100 ? (c == 0 ? 200 : 40) : (c == 2 ? 250 : 0); }));
    subject.mask.coverage = test::picture(200, 100, 1, [](int x, int, int) { return x < 100 ? 255 : 0; });
    s.layers = {ref(subject), ref(effect(3, with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", 6), true))};
    const auto out = test::rendered(s);
    double most = 0;
    for (int x = 70; x < 130; ++x) {
      most = std::max(most, std::abs(double(out.at(x, 50)[3]) - 0.5 * std::erfc((x + 0.5 - 100) / (6 * std::sqrt(2.0)))));
      if (out.at(x, 50)[3] > 0.05f)
        QVERIFY2(std::abs(out.at(x, 50)[0] - 200.f / 255) < 0.01f && std::abs(out.at(x, 50)[2] - 40.f / 255) < 0.02f,
                 qPrintable(QString::number(out.at(x, 50)[2])));
    }
    QVERIFY(most < 0.01);
  }
  void sharpeningRaisesTheSlopeAndSparesGrain() {
    const auto step = [](int x, int) { return 60 + 120 * 0.5 * std::erfc((100 - x - 0.5) / (2 * std::sqrt(2.0))); };
    auto n = scene::parametric(scene::AdjustmentId::sharpen);
    n.values = {2, 1, 0};
    const auto out = shown(grey(200, 60, step), n);
    // u + (u − g∗u): the slope in the middle is 2 − 1/√2 times as steep.
    const double before = (step(100, 0) - step(99, 0)) / 255, after = double(out.at(100, 30)[1] - out.at(99, 30)[1]);
    QVERIFY2(std::abs(after / before - (2 - 1 / std::sqrt(2.0))) < 0.06, qPrintable(QString::number(after / before)));
    test::Noise noise(3);
    const auto speckled = grey(120, 120, [&](int, int) { return 128 + 3 * (noise.unit() - 0.5); });
    n.values = {1, 2, 0.02};
    QVERIFY(deviationOf(shown(speckled, n), {10, 10, 100, 100}) <
            1.02 * deviationOf(test::rendered(test::sceneOf(speckled)), {10, 10, 100, 100}));
  }
  // A scene of edges and fine lines, blurred by a known Gaussian: what comes back is nearer to it than what sharpening gives.
  void aKnownBlurIsTurnedBack() {
    const auto sharp = [](int x, int y) {
      return ((x / 24 + y / 30) % 2 ? 70.0 : 170.0) + ((x / 3) % 4 == 0 && y % 60 < 30 ? 40 : 0);
    };
    for (const double sigma : {1.0, 2.0}) {
      const int reach = 10;
      std::vector<double> g;
      double sum = 0;
      for (int k = -reach; k <= reach; ++k) g.push_back(std::exp(-k * k / (2 * sigma * sigma))), sum += g.back();
      std::vector<std::vector<double>> rows(140, std::vector<double>(200)), soft = rows;
      const auto held = [](int v, int most) { return std::clamp(v, 0, most - 1); };
      for (int y = 0; y < 140; ++y) {
        for (int x = 0; x < 200; ++x) {
          for (int k = -reach; k <= reach; ++k)
            rows[std::size_t(y)][std::size_t(x)] += g[std::size_t(k + reach)] / sum * sharp(held(x + k, 200), y);
        }
      }
      for (int y = 0; y < 140; ++y) {
        for (int x = 0; x < 200; ++x) {
          for (int k = -reach; k <= reach; ++k)
            soft[std::size_t(y)][std::size_t(x)] +=
                g[std::size_t(k + reach)] / sum * rows[std::size_t(held(y + k, 140))][std::size_t(x)];
        }
      }
      const auto blurred = grey(200, 140, [&](int x, int y) { return soft[std::size_t(y)][std::size_t(x)]; });
      const auto off = [&](const image::Raster<float>& r) {
        double squares = 0;
        for (int y = 20; y < 120; ++y) {
          for (int x = 20; x < 180; ++x) squares += std::pow(double(r.at(x, y)[1]) - sharp(x, y) / 255, 2);
        }
        return std::sqrt(squares / (100 * 160));
      };
      auto back = scene::parametric(scene::AdjustmentId::deblur), unsharp = scene::parametric(scene::AdjustmentId::sharpen);
      back.values = {sigma, 0.005};
      double best = 1;
      for (const double amount : {0.5, 1.0, 2.0, 3.0, 5.0}) {
        unsharp.values = {sigma, amount, 0};
        best = std::min(best, off(shown(blurred, unsharp)));
      }
      const double before = off(test::rendered(test::sceneOf(blurred))), after = off(shown(blurred, back));
      QVERIFY2(after < (sigma < 1.5 ? 0.7 : 0.82) * before && after < best,
               qPrintable(QStringLiteral("%1 of %2, sharpened %3").arg(after).arg(before).arg(best)));
    }
  }
  // Rings stay within half of what lies around, and flat grain is held.
  void turningABlurBackKeepsWithinBounds() {
    const auto step =
        grey(200, 60, [](int x, int) { return 80 + 90 * 0.5 * std::erfc((100 - x - 0.5) / (2.0 * std::sqrt(2.0))); });
    auto n = scene::parametric(scene::AdjustmentId::deblur);
    n.values = {2, 0.002};
    const auto out = shown(step, n);
    double low = 1, high = 0;
    for (int x = 20; x < 180; ++x) low = std::min(low, double(out.at(x, 30)[1])), high = std::max(high, double(out.at(x, 30)[1]));
    QVERIFY2(low > 80 / 255.0 - 0.1 && high < 170 / 255.0 + 0.1,
             qPrintable(QStringLiteral("%1 %2").arg(255 * low).arg(255 * high)));
    const auto slope = [](const image::Raster<float>& r) { return double(r.at(100, 30)[1] - r.at(99, 30)[1]); };
    QVERIFY(slope(out) > 2.2 * slope(test::rendered(test::sceneOf(step))));
  }
  void noiseGoesAndEdgesStay() {
    test::Noise noise(4);
    const auto picture = grey(160, 160, [&](int x, int) {
      double n = 0;
      for (int i = 0; i < 4; ++i) n += noise.unit() - 0.5;
      return (x < 80 ? 80 : 190) + 8 * n;
    });
    auto n = scene::parametric(scene::AdjustmentId::denoise);
    n.values = {4, 0.05, 0.1};
    const auto out = shown(picture, n), before = test::rendered(test::sceneOf(picture));
    QVERIFY(deviationOf(out, {10, 10, 60, 140}) < 0.35 * deviationOf(before, {10, 10, 60, 140}));
    QVERIFY(std::abs(out.at(78, 80)[0] - 80.f / 255) < 0.03f && std::abs(out.at(81, 80)[0] - 190.f / 255) < 0.03f);
  }
  void lightsAndDarksComeBackWhereTheyAre() {
    const auto picture = grey(300, 100, [](int x, int y) { return (x < 150 ? 40 : 215) + ((x / 4 + y / 4) % 2 ? 6 : -6); });
    auto n = scene::parametric(scene::AdjustmentId::recover);
    n.values = {10, 1, 1};
    const auto out = shown(picture, n);
    const auto meanOf = [&](int from) {
      double sum = 0;
      for (int y = 40; y < 56; ++y) {
        for (int x = from; x < from + 16; ++x) sum += double(out.at(x, y)[1]) * 255 / 256;
      }
      return sum;
    };
    QVERIFY(meanOf(60) > 40 + 20 && meanOf(220) < 215 - 20);
    // The texture in both stays what it was: 6 up, 6 down.
    QVERIFY(std::abs(deviationOf(out, {60, 40, 16, 16}) * 255 - 6) < 0.9 &&
            std::abs(deviationOf(out, {220, 40, 16, 16}) * 255 - 6) < 0.9);
    const auto flat = shown(grey(60, 60, [](int x, int) { return x < 30 ? 0 : 255; }), n);
    QVERIFY(flat.at(2, 30)[0] < 0.01f && flat.at(57, 30)[0] > 0.99f);
  }
  void blotchesGoAndWeaveFormAndEdgesStay() {
    // A form (a slope), an edge, blotches 50 px across of 10 levels, a weave of 4 px.
    const auto cloth = [](double blotch) {
      return grey(400, 300, [=](int x, int y) {
        return 90 + 0.1 * x + (y < 100 ? 0 : 70) + blotch * std::sin(x * 2 * M_PI / 50) * std::sin(y * 2 * M_PI / 50) +
               ((x / 2 + y / 2) % 2 ? 6 : -6);
      });
    };
    auto n = scene::parametric(scene::AdjustmentId::even);
    n.values = {5, 100, 1, 0.15};
    const auto out = shown(cloth(10), n), before = test::rendered(test::sceneOf(cloth(10))),
               wanted = test::rendered(test::sceneOf(cloth(0)));
    const auto apart = [&](const image::Raster<float>& a, int top, int bottom) {
      double sum = 0;
      for (int y = top; y < bottom; ++y) {
        for (int x = 110; x < 290; ++x) sum += std::pow(255 * (double(a.at(x, y)[1]) - double(wanted.at(x, y)[1])), 2);
      }
      return std::sqrt(sum / (180.0 * (bottom - top)));
    };
    QVERIFY2(apart(out, 160, 240) < 0.45 * apart(before, 160, 240),
             qPrintable(QStringLiteral("%1 of %2").arg(apart(out, 160, 240)).arg(apart(before, 160, 240))));
    // The weave is what it was.
    const auto weave = [](const image::Raster<float>& r) {
      double sum = 0;
      for (int x = 150; x < 250; ++x) sum += std::abs(255 * double(r.at(x, 200)[1] - r.at(x + 2, 200)[1]));
      return sum / 100;
    };
    QVERIFY2(std::abs(weave(out) / weave(before) - 1) < 0.08, qPrintable(QString::number(weave(out) / weave(before))));
    // Nine tenths of the edge stay, at full strength; a blur of that size would leave less than a half.
    const auto step = [](const image::Raster<float>& r) {
      double sum = 0;
      for (int x = 110; x < 290; ++x) sum += 255 * double(r.at(x, 102)[1] - r.at(x, 97)[1]);
      return sum / 180;
    };
    QVERIFY2(std::abs(step(out) - step(before)) < 7.5, qPrintable(QString::number(step(out) - step(before))));
  }
  void localContrastActsOnTextureAndLeavesTonesAlone() {
    const auto picture = grey(200, 200, [](int x, int y) { return 128 + ((x / 6 + y / 6) % 2 ? 8 : -8); });
    auto n = scene::parametric(scene::AdjustmentId::local);
    n.values = {30, 1};
    const auto out = shown(picture, n);
    QVERIFY(std::abs(deviationOf(out, {60, 60, 72, 72}) * 255 - 16) < 1.5);
    n.values = {30, -1};
    QVERIFY(deviationOf(shown(picture, n), {60, 60, 72, 72}) * 255 < 2.0);
  }
  void grainIsAsStrongAsAskedByTone() {
    auto n = scene::parametric(scene::AdjustmentId::grain);
    n.values = {0.04, 0.02, 0.01, 1, 0, 7};
    const struct { double tone, sigma; } truth[] = {{0.2, 0.032}, {0.5, 0.02}, {0.8, 0.014}};
    for (const auto& t : truth) {
      const auto out = shown(grey(200, 200, [&](int, int) { return std::round(255 * t.tone); }), n);
      QVERIFY2(std::abs(deviationOf(out, {0, 0, 200, 200}) / t.sigma - 1) < 0.03,
               qPrintable(QString::number(deviationOf(out, {0, 0, 200, 200}))));
      QVERIFY(out.at(3, 3)[0] == out.at(3, 3)[2]);
    }
    // Larger grains: as strong, but neighbours go together.
    n.values = {0.02, 0.02, 0.02, 3, 0, 7};
    const auto coarse = shown(grey(240, 240, [](int, int) { return 128; }), n);
    QVERIFY(std::abs(deviationOf(coarse, {0, 0, 240, 240}) / 0.02 - 1) < 0.05);
    double along = 0;
    for (int y = 0; y < 240; ++y) {
      for (int x = 1; x < 240; ++x)
        along += (double(coarse.at(x, y)[0]) - 128 / 255.0) * (double(coarse.at(x - 1, y)[0]) - 128 / 255.0);
    }
    QVERIFY(along / (239.0 * 240) / (0.02 * 0.02) > 0.6);
    // Another seed is another grain; the same is the same.
    auto other = n;
    other.values[5] = 8;
    QVERIFY(shown(grey(20, 20, [](int, int) { return 128; }), other).at(5, 5)[0] !=
            shown(grey(20, 20, [](int, int) { return 128; }), n).at(5, 5)[0]);
    // Colour: channels go apart, each as strong.
    n.values = {0.02, 0.02, 0.02, 1, 1, 7};
    const auto colour = shown(grey(200, 200, [](int, int) { return 128; }), n);
    QVERIFY(std::abs(deviationOf(colour, {0, 0, 200, 200}, 2) / 0.02 - 1) < 0.03 && colour.at(3, 3)[0] != colour.at(3, 3)[2]);
  }
  void cornersHazeAndFlareFollowTheirFormulas() {
    const auto flat = grey(300, 200, [](int, int) { return 160; });
    const double before = image::linearFromEncoded(160 / 255.0);
    auto n = scene::parametric(scene::AdjustmentId::corners);
    n.values = {0.5, 0.2};
    const auto dark = shown(flat, n);
    QVERIFY(std::abs(light(dark, 150, 100) - before) < 1e-3 && std::abs(light(dark, 0, 0) / before - 0.5) < 0.01);
    n = scene::parametric(scene::AdjustmentId::haze);
    n.values = {1, 0, 0.6, 0.8, 0.8, 0.8};
    const auto hazy = shown(flat, n);
    const double air = image::linearFromEncoded(0.8);
    for (const int y : {10, 100, 190}) {
      const double left = std::pow(0.4, 1 - (y + 0.5) / 200);
      QVERIFY(std::abs(light(hazy, 20, y) - (before * left + air * (1 - left))) < 2e-3);
    }
    n = scene::parametric(scene::AdjustmentId::flare);
    n.values = {0.5, 0.5, 0.2, 0.3, 0, 1, 0.5, 0};
    const auto lamp = shown(flat, n);
    QVERIFY(light(lamp, 150, 100, 0) > before + 0.3 && std::abs(light(lamp, 150, 100, 2) - before) < 1e-3);
    QVERIFY(light(lamp, 0, 0, 0) < before + 0.02);
  }
  void lightWrapsRoundTheEdgeOnly() {
    scene::Scene s;
    s.canvas = {200, 100};
    scene::Layer subject = test::pictureLayer(2, grey(200, 100, [](int, int) { return 30; }));
    subject.mask.coverage = test::picture(200, 100, 1, [](int x, int, int) { return x < 100 ? 255 : 0; });
    auto n = scene::parametric(scene::AdjustmentId::wrap);
    n.values = {10, 0.5};
    s.layers = {ref(test::pictureLayer(1, grey(200, 100, [](int, int) { return 230; }))), ref(subject), ref(effect(3, n, true))};
    const auto out = test::rendered(s);
    const double own = image::linearFromEncoded(30 / 255.0), behind = image::linearFromEncoded(230 / 255.0);
    QVERIFY(std::abs(light(out, 50, 50) - own) < 1e-3);
    // At the edge one half of what is around is open: twice that, times the strength, of the light behind.
    QVERIFY(light(out, 99, 50) > own + 0.35 * behind && light(out, 99, 50) < own + 0.5 * behind);
    QVERIFY(light(out, 95, 50) < light(out, 98, 50));
    QVERIFY(std::abs(light(out, 150, 50) - behind) < 1e-3);
  }
  void theSameBitsHoweverAnAreaIsSplit() {
    test::Noise noise(9);
    scene::Scene s;
    s.canvas = {700, 420};
    scene::Layer subject = test::pictureLayer(2, test::picture(300, 300, 3, [&](int, int, int) { return noise.below(256); }));
    std::get<scene::PictureContent>(subject.content).placement = {150, 60, 1.1, 20, false, false};
    s.layers = {ref(test::pictureLayer(
                    1, test::picture(700, 420, 3, [&](int x, int y, int c) { return (x * 3 + y * 5 + c * 40) % 256; }))),
                ref(subject),
                ref(effect(3, with(scene::parametric(scene::AdjustmentId::defocus), "radius", 7), true)),
                ref(effect(4, with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", 5))),
                ref(effect(5, scene::parametric(scene::AdjustmentId::grain))),
                ref(effect(6, scene::parametric(scene::AdjustmentId::local)))};
    for (const int level : {0, 1}) {
      const base::Size size = render::canvasAt(s, level);
      const auto whole = test::must(render::Renderer().render(s, base::Rect::of(size), level, test::here()));
      for (const base::Rect part : {base::Rect{13, 7, 100, 61}, {200, 100, 149, 110}, {0, 0, 1, 1}}) {
        const auto piece = test::must(render::Renderer().render(s, part, level, test::here()));
        for (int y = 0; y < part.height; ++y) {
          for (int x = 0; x < part.width; ++x) {
            for (int c = 0; c < 4; ++c) QCOMPARE(piece.at(x, y)[c], whole.at(part.x + x, part.y + y)[c]);
          }
        }
      }
    }
  }
  // What the window repaints after a change reaches as far as the blur does.
  void aChangeBelowABlurIsRepaintedAsFarAsItShows() {
    scene::Scene a;
    a.canvas = {300, 200};
    scene::Layer small = test::pictureLayer(2, grey(20, 20, [](int, int) { return 10; }));
    std::get<scene::PictureContent>(small.content).placement.x = 140;
    std::get<scene::PictureContent>(small.content).placement.y = 90;
    a.layers = {ref(test::pictureLayer(1, grey(300, 200, [](int, int) { return 200; }))), ref(small),
                ref(effect(3, with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", 8)))};
    scene::Scene b = a;
    small.opacity = 0.4;
    b.layers[1] = ref(small);
    const auto rects = scene::difference(a, b);
    const auto before = test::rendered(a), after = test::rendered(b);
    for (int y = 0; y < 200; ++y) {
      for (int x = 0; x < 300; ++x) {
        const bool in = std::any_of(rects.begin(), rects.end(), [&](const base::Rect& r) { return r.contains(x, y); });
        if (!in) QCOMPARE(before.at(x, y)[0], after.at(x, y)[0]);
      }
    }
  }
};

HSEAM_TEST(EffectsTest);
#include "effects_test.moc"
