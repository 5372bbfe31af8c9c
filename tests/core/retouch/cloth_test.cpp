#include "core/retouch/cloth.h"

#include <cmath>

#include "core/image/transfer.h"
#include "core/render/renderer.h"
#include "core/render/scenes.h"
#include "core/scene/edit.h"
#include "core/scene/up_to.h"
#include "pictures.h"

using namespace hseam;

namespace {

constexpr int kClothWide = 420, kClothHigh = 320;

// Light on the folds; they run down, aslant, and none is like another.
double foldAt(double x, double y) {
  const double way = x + 0.35 * y + 22 * std::sin(x / 61 + 0.7) + 16 * std::sin(y / 43 + x / 150);
  return std::exp(0.45 * std::sin(way * 2 * M_PI / 95) + 0.15 * std::sin((x - 0.8 * y) / 37));
}
double threadsAt(int x, int y) {
  std::uint64_t v = (std::uint64_t(x) * 73856093u) ^ (std::uint64_t(y) * 19349663u);
  v = (v ^ (v >> 13)) * 0x5bd1e995u;
  return 1 + 0.05 * std::sin(x * 2 * M_PI / 5) * std::sin(y * 2 * M_PI / 5) + 0.05 * (double(v >> 8 & 255) / 255 - 0.5);
}
double clothAt(int x, int y, int c) {
  constexpr double kDye[3] = {0.10, 0.16, 0.30};
  return 255 * image::encodedFromLinear(kDye[c] * foldAt(x + 0.5, y + 0.5) * threadsAt(x, y));
}
// A badge: a white disc with a red ring and a yellow bar.
double badgeAt(int x, int y) {
  return std::clamp(62 - std::hypot(x + 0.5 - 210, y + 0.5 - 160) + 0.5, 0.0, 1.0);
}
double printAt(int x, int y, int c) {
  const double d = std::hypot(x + 0.5 - 210, y + 0.5 - 160);
  if (std::abs(x - 210) < 8 && d < 40) return c == 2 ? 0.08 : 0.55;
  if (d > 44 && d < 54) return c == 0 ? 0.5 : 0.05;
  return 0.75;
}
scene::Scene printedCloth() {
  return test::sceneOf(test::picture(kClothWide, kClothHigh, 3, [](int x, int y, int c) {
    const double a = badgeAt(x, y);
    constexpr double kDye[3] = {0.10, 0.16, 0.30};
    const double dye = a * printAt(x, y, c) + (1 - a) * kDye[c];
    return 255 * image::encodedFromLinear(std::min(1.0, dye * foldAt(x + 0.5, y + 0.5) * threadsAt(x, y)));
  }));
}

retouch::Stroke overTheBadge() {
  const std::array<std::byte, 4> nothing{};
  const auto cover = test::picture(kClothWide, kClothHigh, 1, [](int x, int y, int) {
    return 255 * std::clamp(68 - std::hypot(x + 0.5 - 210, y + 0.5 - 160) + 0.5, 0.0, 1.0);
  });
  return {image::TiledImage::uniform({kClothWide, kClothHigh}, image::PixelFormat::rgba8, nothing, test::memory()),
          cover,
          {210 - 69, 160 - 69, 138, 138},
          {}};
}

// The mean difference of the light, in stops, over 9 px about each place of the badge, from the cloth without it.
double stopsOff(const image::TiledImage& painting) {
  const auto p = test::must(image::readFloat(painting, 0, {0, 0, kClothWide, kClothHigh}));
  double sum = 0, n = 0;
  for (int y = 100; y <= 220; y += 5) {
    for (int x = 150; x <= 270; x += 5) {
      if (std::hypot(x - 210, y - 160) > 58) continue;
      double got = 0, truth = 0;
      for (int v = y - 4; v <= y + 4; ++v) {
        for (int u = x - 4; u <= x + 4; ++u) {
          got += image::linearFromEncoded(double(p.at(u, v)[1]));
          truth += image::linearFromEncoded(clothAt(u, v, 1) / 255);
        }
      }
      sum += std::abs(std::log2(got / truth)), n += 1;
    }
  }
  return sum / n;
}

}  // namespace

class ClothTest : public QObject {
  Q_OBJECT
 private slots:
  void aMarkComesOffAndTheFoldsStay() {
    const auto plain = test::must(retouch::mended(overTheBadge(), printedCloth(), 1, test::here(), {}));
    const auto off = test::must(retouch::markTakenOff(overTheBadge(), printedCloth(), 1, test::here(), {}));
    const double without = stopsOff(plain), with = stopsOff(off);
    QVERIFY2(with < 0.09 && with < 0.35 * without,
             qPrintable(QStringLiteral("%1 stops, filled alone %2").arg(with).arg(without)));
    // No colour of the badge is left, and the threads are there.
    const auto p = test::must(image::readFloat(off, 0, {160, 110, 100, 100}));
    double reddest = 0, threads = 0, n = 0;
    for (int y = 1; y < 99; ++y) {
      for (int x = 1; x < 99; ++x) {
        const float* c = p.at(x, y);
        reddest = std::max(reddest, double(c[0] / c[2]));
        const double flat =
            (double(p.at(x - 1, y)[1]) + double(p.at(x + 1, y)[1]) + double(p.at(x, y - 1)[1]) + double(p.at(x, y + 1)[1])) / 4;
        threads += std::abs(double(c[1]) - flat), n += 1;
      }
    }
    QVERIFY2(reddest < 0.8, qPrintable(QString::number(reddest)));
    const auto own = [](int x, int y) { return clothAt(x, y, 1) / 255; };
    double truth = 0;
    for (int y = 20; y < 90; ++y) {
      for (int x = 20; x < 90; ++x)
        truth += std::abs(own(x, y) - (own(x - 1, y) + own(x + 1, y) + own(x, y - 1) + own(x, y + 1)) / 4);
    }
    const double share = (threads / n) / (truth / (70 * 70));
    QVERIFY2(share > 0.7 && share < 1.3, qPrintable(QString::number(share)));
  }
  void aMarkLaidOnTakesTheFolds() {
    scene::Scene s = test::sceneOf(test::picture(kClothWide, kClothHigh, 3, clothAt));
    scene::Layer badge =
        test::pictureLayer(2, test::picture(120, 120, 3, [](int, int, int c) { return c == 0 ? 150.0 : 120.0; }), 150, 100);
    s = test::must(scene::apply(s, scene::AddLayer{badge, {}, -1}));
    const auto flat = test::must(retouch::laidOnCloth(s, {2}, {1, 0, 4}, test::here(), {}));
    QCOMPARE(flat.movedPx, 0.0);
    const scene::Scene laid = test::must(scene::apply(s, flat.edit));
    render::Renderer renderer;
    const auto shown = test::must(renderer.render(laid, {150, 100, 120, 120}, 0, test::here()));
    // Its light follows the folds: over each place the same share of its own as the cloth's of its mean.
    double mean = 0, n = 0, worst = 0;
    for (int pass = 0; pass < 2; ++pass) {
      for (int y = 10; y < 110; y += 5) {
        for (int x = 10; x < 110; x += 5) {
          const double own =
              std::log2(image::linearFromEncoded(double(shown.at(x, y)[0])) / image::linearFromEncoded(150 / 255.0));
          const double off = own - std::log2(foldAt(150.5 + x, 100.5 + y));
          if (pass == 0) mean += off, n += 1;
          if (pass == 1) worst = std::max(worst, std::abs(off - mean / n));
        }
      }
    }
    QVERIFY2(worst < 0.12, qPrintable(QString::number(worst)));
    QVERIFY2(flat.shadeStops > 0.9 && flat.shadeStops < 1.6, qPrintable(QString::number(flat.shadeStops)));
    // Half of the shading is half the stops; the source is as it was; once more replaces it.
    const auto half = test::must(retouch::laidOnCloth(laid, {2}, {0.5, 0, 4}, test::here(), {}));
    QVERIFY(std::abs(half.shadeStops - flat.shadeStops / 2) < 0.02);
    QCOMPARE(scene::findLayer(laid, {2})->picture()->source.stamp(), badge.picture()->source.stamp());
    const auto bent = test::must(retouch::laidOnCloth(laid, {2}, {1, 6, 4}, test::here(), {}));
    QVERIFY2(bent.movedPx > 4 && bent.movedPx <= 6.001, qPrintable(QString::number(bent.movedPx)));
    const auto again =
        test::must(retouch::laidOnCloth(test::must(scene::apply(laid, bent.edit)), {2}, {1, 6, 4}, test::here(), {}));
    QVERIFY(std::abs(again.movedPx - bent.movedPx) < 1e-6 && std::abs(again.shadeStops - bent.shadeStops) < 0.01);
  }
  void foldsRunThroughALineOnIt() {
    scene::Scene s = test::sceneOf(test::picture(kClothWide, kClothHigh, 3, clothAt));
    scene::Layer badge = test::pictureLayer(
        2, test::picture(160, 120, 3, [](int, int y, int) { return std::abs(y - 60) < 4 ? 20.0 : 220.0; }), 130, 100);
    s = test::must(scene::apply(s, scene::AddLayer{badge, {}, -1}));
    const auto made = test::must(retouch::laidOnCloth(s, {2}, {0, 8, 4}, test::here(), {}));
    const auto* warp = std::get_if<scene::SetWarp>(&made.edit.edits.back().edit);
    QVERIFY(warp && warp->warp);
    // Where the light rises along the way of a place, it goes against it, and nowhere further than the depth.
    const scene::WarpMap map(*warp->warp, {160, 120});
    double agree = 0, n = 0;
    for (int y = 15; y < 105; y += 5) {
      for (int x = 15; x < 145; x += 5) {
        const base::Point to = map({double(x), double(y)});
        const double dx = to.x - x, dy = to.y - y, gx = std::log(foldAt(132 + x, 100 + y) / foldAt(128 + x, 100 + y)),
                     gy = std::log(foldAt(130 + x, 102 + y) / foldAt(130 + x, 98 + y));
        QVERIFY(std::hypot(dx, dy) < 8.8);
        if (std::hypot(gx, gy) < 0.03) continue;
        agree += -(dx * gx + dy * gy) / std::max(1e-9, std::hypot(dx, dy) * std::hypot(gx, gy)), n += 1;
      }
    }
    QVERIFY2(n > 100 && agree / n > 0.9, qPrintable(QString::number(agree / n)));
  }
  void nothingBehindIsSaid() {
    scene::Scene s;
    s.canvas = {100, 100};
    scene::Layer badge = test::pictureLayer(1, test::picture(40, 40, 3, [](int, int, int) { return 100.0; }));
    s = test::must(scene::apply(s, scene::AddLayer{badge, {}, -1}));
    QCOMPARE(retouch::laidOnCloth(s, {1}, {}, test::here(), {}).error().code, base::Code::invalid);
    QCOMPARE(retouch::laidOnCloth(s, {9}, {}, test::here(), {}).error().code, base::Code::notFound);
  }
};

HSEAM_TEST(ClothTest);
#include "cloth_test.moc"
