#include <sys/resource.h>
#include <unistd.h>

#include <cmath>
#include <fstream>

#include "core/image/transfer.h"
#include "scenes.h"

using namespace hseam;
using test::ref;

namespace {

bool sameBits(const image::Raster<float>& a, const image::Raster<float>& b) {
  return a.samples() == b.samples();
}

scene::Scene turnedScene() {
  scene::Scene s = test::richScene(700, 520, scene::Mixing::linear);
  scene::Layer turned = test::pictureLayer(20, test::colours(400, 300, 8), 133.3, 80.7);
  auto& p = std::get<scene::PictureContent>(turned.content).placement;
  p.rotationDeg = 23;
  p.scale = 0.83;
  turned.mask.coverage = test::disc(400, 300);
  scene::Layer small = test::pictureLayer(21, test::colours(900, 700, 4), 40.25, 10.5);
  std::get<scene::PictureContent>(small.content).placement.scale = 0.37;
  s.layers.push_back(ref(turned));
  s.layers.push_back(ref(small));
  return s;
}

}  // namespace

class RendererTest : public QObject {
  Q_OBJECT
 private slots:
  void planesThatDoNotFitAreAnError() {
    // No more than this may be in use from here on: what follows asks for a gigabyte.
    rlimit before{};
    QVERIFY(getrlimit(RLIMIT_AS, &before) == 0);
    std::ifstream statm("/proc/self/statm");
    std::size_t pages = 0;
    QVERIFY(bool(statm >> pages));
    rlimit little{pages * std::size_t(sysconf(_SC_PAGESIZE)) + (std::size_t(64) << 20), before.rlim_max};
    setrlimit(RLIMIT_AS, &little);
    bool thrown = false;
    try {
      const render::Planes planes(1 << 26);
      thrown = planes.count() == 0;
    } catch (const std::bad_alloc&) {
      thrown = true;
    }
    setrlimit(RLIMIT_AS, &before);
    QVERIFY(thrown);
  }
  void sameBitsForAnyThreadCountAndSplit() {
    const scene::Scene s = turnedScene();
    const auto whole = test::rendered(s);
    render::Renderer renderer;
    for (int threads : {2, 3, 7}) {
      const auto pool = base::makePool(threads);
      QVERIFY(sameBits(whole, test::must(renderer.render(s, {0, 0, 700, 520}, 0, *pool))));
    }
    test::Noise noise(3);
    for (int i = 0; i < 25; ++i) {
      const base::Rect r{noise.below(600), noise.below(450), 1 + noise.below(300), 1 + noise.below(200)};
      const auto part = test::must(renderer.render(s, r, 0, test::here()));
      const base::Rect inside = r.intersected({0, 0, 700, 520});
      for (int y = 0; y < inside.height; ++y) {
        for (int x = 0; x < inside.width; ++x) {
          for (int c = 0; c < 4; ++c)
            QCOMPARE(part.at(inside.x - r.x + x, inside.y - r.y + y)[c], whole.at(inside.x + x, inside.y + y)[c]);
        }
      }
    }
  }
  void reductionIsAreaCorrect() {
    // A wave of 32 px reduced to 0.3 must come out as the same wave of 9.6 px; one of 3 px must vanish into its mean light.
    for (const double period : {32.0, 3.0}) {
      scene::Scene s;
      s.canvas = {200, 60};
      scene::Layer l = test::pictureLayer(
          1, test::must(image::tiledFromRows({640, 200}, image::PixelFormat::rgb16, test::memory(), test::here(), {},
                                             [&](int, int count, std::byte* rows) -> base::Status {
                                               auto* px = reinterpret_cast<std::uint16_t*>(rows);
                                               for (int i = 0; i < count * 640; ++i) {
                                                 // The exact mean over the pixel of a wave in linear light.
                                                 const double x = i % 640, w = 2 * M_PI / period;
                                                 const double light = 0.5 + 0.3 * (std::cos(w * x) - std::cos(w * (x + 1))) / w;
                                                 for (int c = 0; c < 3; ++c)
                                                   px[i * 3 + c] =
                                                       std::uint16_t(std::lround(image::encodedFromLinear(light) * 65535));
                                               }
                                               return {};
                                             })));
      std::get<scene::PictureContent>(l.content).placement.scale = 0.3;
      s.layers = {ref(l)};
      const auto out = test::rendered(s);
      double worst = 0;
      for (int x = 10; x < 180; ++x) {
        const double x0 = x / 0.3, x1 = (x + 1) / 0.3, k = 2 * M_PI / period;
        const double expected = period > 10 ? 0.5 + 0.3 * (std::cos(k * x0) - std::cos(k * x1)) / (k * (x1 - x0)) : 0.5;
        worst = std::max(worst, std::abs(image::linearFromEncoded(double(out.at(x, 30)[0])) - expected));
      }
      // What is left at 3 px is the ripple of the kernel; a reduction that only picks pixels leaves 0.3.
      QVERIFY2(worst < (period > 10 ? 0.02 : 0.05), qPrintable(QStringLiteral("period %1: %2").arg(period).arg(worst)));
    }
  }
  void enlargementKeepsSmoothColours() {
    scene::Scene s;
    s.canvas = {300, 300};
    scene::Layer l =
        test::pictureLayer(1, test::picture(100, 100, 3, [](int x, int y, int c) { return 60 + (c == 0 ? x : y) * 1.4; }));
    auto& p = std::get<scene::PictureContent>(l.content).placement;
    p.scale = 3;
    s.layers = {ref(l)};
    const auto out = test::rendered(s);
    for (int x = 30; x < 270; x += 7) {
      const double expected = (60 + ((x + 0.5) / 3 - 0.5) * 1.4) / 255;
      QVERIFY2(std::abs(double(out.at(x, 150)[0]) - expected) < 0.004, qPrintable(QString::number(x)));
    }
  }
  void borderOfAScaledPictureIsItsExactArea() {
    scene::Scene s;
    s.canvas = {100, 100};
    scene::Layer l = test::pictureLayer(1, test::picture(101, 50, 3, [](int, int, int) { return 255; }), 10, 10);
    std::get<scene::PictureContent>(l.content).placement.scale = 0.5;  // 50.5 px wide
    s.layers = {ref(l)};
    const auto out = test::rendered(s);
    QCOMPARE(out.at(59, 20)[3], 1.f);
    QVERIFY(std::abs(out.at(60, 20)[3] - 0.5f) < 1e-5f);
    QCOMPARE(out.at(61, 20)[3], 0.f);
    QCOMPARE(out.at(10, 10)[3], 1.f);
  }
  void coarseLevelsLookLikeTheReducedPicture() {
    const scene::Scene s = test::richScene(512, 384, scene::Mixing::linear);
    const auto fine = test::rendered(s), coarse = test::rendered(s, 2);
    double sum = 0;
    for (int y = 0; y < coarse.height(); ++y) {
      for (int x = 0; x < coarse.width(); ++x) {
        double light = 0;
        for (int k = 0; k < 16; ++k) light += image::linearFromEncoded(double(fine.at(x * 4 + k % 4, y * 4 + k / 4)[1])) / 16;
        sum += std::abs(image::encodedFromLinear(light) - double(coarse.at(x, y)[1]));
      }
    }
    QVERIFY2(sum / double(coarse.pixels()) < 0.006, qPrintable(QString::number(sum / double(coarse.pixels()))));
  }
  void nothingChangesOutsideTheDifference() {
    // Random edits: pixels outside difference() must be the same bits before and after.
    scene::Scene s = turnedScene();
    test::Noise noise(11);
    int compared = 0;
    for (int i = 0; i < 40; ++i) {
      const auto all = scene::allLayers(s);
      const scene::LayerRef l = all[std::size_t(noise.below(int(all.size())))];
      scene::Edit edit = scene::SetOpacity{l->id, noise.unit()};
      switch (noise.below(8)) {
        case 0:
          edit = scene::SetHidden{l->id, !l->hidden};
          break;
        case 1:
          edit = scene::SetMode{l->id, scene::BlendMode(noise.below(scene::kBlendModeCount))};
          break;
        case 2:
          edit = scene::SetClip{l->id, !l->clip};
          break;
        case 3:
          edit = scene::RemoveLayer{l->id};
          break;
        case 4:
          edit = scene::MoveLayer{l->id, {}, noise.below(5)};
          break;
        case 5:
          if (l->picture()) {
            scene::Placement p = l->picture()->placement;
            p.x += noise.below(60) - 30;
            edit = scene::SetPlacement{l->id, p};
          }
          break;
        case 6: {
          const base::Size m = scene::maskSizeOf(s, *l);
          const auto before = l->mask.coverage.isNull() ? image::uniformCoverage(m, 255, test::memory()) : l->mask.coverage;
          edit = scene::SetMask{
              l->id,
              test::must(image::withPixels(before, {noise.below(m.width), noise.below(m.height), 9, 9},
                                           image::Raster<std::uint8_t>(9, 9, 1, std::uint8_t(noise.below(256))), test::here())),
              ""};
          break;
        }
        default:
          break;
      }
      const auto next = scene::apply(s, edit);
      if (!next.ok() || scene::allLayers(*next).size() < 4) continue;
      const auto before = test::rendered(s), after = test::rendered(*next);
      const auto changed = scene::difference(s, *next);
      for (int y = 0; y < 520; ++y) {
        for (int x = 0; x < 700; ++x) {
          if (std::equal(before.at(x, y), before.at(x, y) + 4, after.at(x, y))) continue;
          const bool told = std::any_of(changed.begin(), changed.end(), [&](const base::Rect& r) { return r.contains(x, y); });
          QVERIFY2(told, qPrintable(QStringLiteral("%1 changed (%2, %3) untold")
                                        .arg(QString::fromStdString(scene::describe(s, edit)))
                                        .arg(x)
                                        .arg(y)));
        }
      }
      s = *next;
      ++compared;
    }
    QVERIFY(compared > 18);
  }
  void needsAndTouchesHoldTheirPromise() {
    // A change outside needs(area) leaves the area alone; a change of a px shows only inside touches.
    scene::Scene s;
    s.canvas = {300, 300};
    scene::Layer l = test::pictureLayer(1, test::colours(500, 400, 2), 20, 30);
    auto& p = std::get<scene::PictureContent>(l.content).placement;
    p.scale = 0.61;
    p.rotationDeg = 31;
    s.layers = {ref(l)};
    const base::Rect area{100, 120, 40, 30};
    const base::Rect needed = render::needs(l, area, 0);
    QVERIFY(needed.width < 200 && needed.height < 200);
    const base::Rect dot{needed.right() + 1, 200, 3, 3};
    scene::Layer changed = l;
    std::get<scene::PictureContent>(changed.content).source =
        test::must(image::withPixels(l.picture()->source, dot, image::Raster<std::uint8_t>(3, 3, 3, 255), test::here()));
    scene::Scene t = s;
    t.layers = {ref(changed)};
    const auto before = test::rendered(s), after = test::rendered(t);
    const base::Rect touched = render::touches(l, dot);
    bool any = false;
    for (int y = 0; y < 300; ++y) {
      for (int x = 0; x < 300; ++x) {
        const bool differs = !std::equal(before.at(x, y), before.at(x, y) + 4, after.at(x, y));
        any |= differs;
        if (area.contains(x, y)) QVERIFY(!differs);
        if (!touched.contains(x, y)) QVERIFY(!differs);
      }
    }
    QVERIFY(any);
  }
  void stoppedRendersSaySo() {
    std::stop_source stop;
    stop.request_stop();
    render::Renderer renderer;
    QCOMPARE(renderer.render(turnedScene(), {0, 0, 100, 100}, 0, test::here(), stop.get_token()).error().code,
             base::Code::cancelled);
  }
};
HSEAM_TEST(RendererTest);
#include "renderer_test.moc"
