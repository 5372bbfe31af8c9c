#include <QTest>
#include <cmath>

#include "core/matte/edge_fit.h"
#include "core/matte/found_band.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;

namespace {

constexpr double kX = 300, kY = 220, kRadius = 130;

// A mottled disc before a wall with a pattern.
image::TiledImage mottledDisc() {
  test::Noise noise(3);
  return test::picture(600, 440, 3, [&](int x, int y, int c) {
    const double a = matte::coverageAcross(std::hypot(x + 0.5 - kX, y + 0.5 - kY) - kRadius, 0, 0.8);
    const double in[] = {170, 80, 50}, out[] = {110, 130, 150};
    return a * (in[c] + 14 * std::sin(x * 0.7) * std::sin(y * 0.6)) + (1 - a) * (out[c] + 12 * std::sin(x * 0.23 + y * 0.11)) +
           6 * (noise.unit() - 0.5);
  });
}

// Off by up to 6 px everywhere, and by `extra` px around the direction `where`.
image::TiledImage roughDisc(double extra, double where) {
  return test::picture(600, 440, 1, [&](int x, int y, int) {
    const double dx = x + 0.5 - kX, dy = y + 0.5 - kY, turn = std::remainder(std::atan2(dy, dx) - where, 2 * M_PI),
                 off = 6 * std::sin(5 * std::atan2(dy, dx)) + extra * std::exp(-turn * turn / (2 * 0.35 * 0.35));
    return std::hypot(dx, dy) < kRadius + off ? 255 : 0;
  });
}

std::vector<base::Rect> missedBy(const image::TiledImage& selected) {
  return test::must(matte::findBandAndMisses(mottledDisc(), selected, {}, test::here(), {})).missed;
}

}  // namespace

class MissedPlacesTest : public QObject {
  Q_OBJECT
 private slots:
  void aRoughSelectionMissesNothing() { QVERIFY(missedBy(roughDisc(0, 0)).empty()); }
  void whereItRunsOverTheGroundIsTold() {
    for (const double where : {0.0, 2.0, -1.6}) {
      const auto missed = missedBy(roughDisc(55, where));
      QVERIFY(!missed.empty());
      for (const base::Rect& r : missed) {
        const double x = r.x + r.width / 2.0 - kX, y = r.y + r.height / 2.0 - kY;
        QVERIFY(std::abs(std::remainder(std::atan2(y, x) - where, 2 * M_PI)) < 0.7);
      }
    }
  }
  // Or the strip grows until it holds the edge.
  void whereItCutsIntoTheSubjectIsHeldOrTold() {
    for (const double where : {0.0, 2.0, -1.6}) {
      const auto found = test::must(matte::findBandAndMisses(mottledDisc(), roughDisc(-55, where), {}, test::here(), {}));
      const base::Point edge{kX + kRadius * std::cos(where), kY + kRadius * std::sin(where)};
      const auto band = test::must(image::read8(found.band, 0, {int(edge.x), int(edge.y), 1, 1}));
      const bool told = std::any_of(found.missed.begin(), found.missed.end(), [&](const base::Rect& r) {
        return std::hypot(r.x + r.width / 2.0 - edge.x, r.y + r.height / 2.0 - edge.y) < 70;
      });
      QVERIFY(told || band.samples()[0] == 128);
    }
  }
};

HSEAM_TEST(MissedPlacesTest);
#include "missed_places_test.moc"
