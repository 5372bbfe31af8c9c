#include "core/matte/edge_readings.h"

#include <QTest>
#include <cmath>
#include <numbers>

#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::matte;

namespace {

constexpr int kDiscSide = 600;
constexpr double kMiddle = 300, kRadius = 200;

// A discAlpha whose edge falls from 1 to 0 over `width` px: its 10–90 % width is 0.8 of that.
image::TiledImage discAlpha(double width) {
  return test::picture(kDiscSide, kDiscSide, 1, [=](int x, int y, int) {
    return 255 * std::clamp((kRadius - std::hypot(x + 0.5 - kMiddle, y + 0.5 - kMiddle)) / width + 0.5, 0.0, 1.0);
  });
}
image::TiledImage flatRaster(int r, int g, int b) {
  return test::picture(kDiscSide, kDiscSide, 3, [=](int, int, int c) { return c == 0 ? r : (c == 1 ? g : b); });
}
// A tenth of the turn in strands: upright spikes of 14 px, 2 px wide, every 8 px.
image::TiledImage hairy() {
  return test::picture(kDiscSide, kDiscSide, 1, [](int x, int y, int) {
    const double dx = x + 0.5 - kMiddle, dy = y + 0.5 - kMiddle, d = std::hypot(dx, dy), a = std::atan2(dy, dx);
    const bool strands = a > 0 && a < 1;
    const double along = a * kRadius, phase = along - 8 * std::floor(along / 8);
    const double reach = strands && phase < 2.5 ? 16 : 0;
    // Strands curl: each has a gap on its way out.
    const double gap = strands && d > kRadius + 5 && d < kRadius + 8 ? 1 : 0;
    return 255 * (1 - gap) * std::clamp(kRadius + reach - d + 0.5, 0.0, 1.0);
  });
}

}  // namespace

class UnrolledTest : public QObject {
  Q_OBJECT
 private slots:
  void placesLieOnTheOutlineAndNormalsPointOutwards() {
    const auto o = test::must(unrolled(discAlpha(1)));
    QVERIFY(std::abs(double(o.places.size()) - 2 * std::numbers::pi * kRadius) < 12);
    for (const auto& p : o.places) {
      const double dx = p.at.x - kMiddle, dy = p.at.y - kMiddle, d = std::hypot(dx, dy);
      QVERIFY2(std::abs(d - kRadius) < 0.5, qPrintable(QString::number(d)));
      QVERIFY((dx * p.outward.x + dy * p.outward.y) / d > 0.999);
    }
  }
  void theToneStepIsTheDifferenceInLightness() {
    image::Raster<std::uint8_t> strip(3, 49, 3);
    for (int x = 0; x < 3; ++x) {
      for (int y = 0; y < 49; ++y) {
        // L* 50 inside; outside 50, 60 and 40 (CIE 1976 of greys 118.9, 145.1 and 93.9).
        const int out[] = {119, 145, 94};
        std::fill_n(strip.at(x, y), 3, std::uint8_t(y < 24 ? out[x] : 119));
      }
    }
    const auto steps = toneSteps(strip);
    QVERIFY(std::abs(steps[0]) < 0.05f);
    QVERIFY(std::abs(steps[1] - 10) < 0.2f);
    QVERIFY(std::abs(steps[2] + 10) < 0.2f);
  }
  void anotherBodyNearbyIsNoStrand() {
    // A bar of 20 px and a second one 9 px beside it: crisp edges, however much coverage rises and falls within reach.
    const auto mask = test::picture(kDiscSide, kDiscSide, 1,
                                    [](int x, int, int) { return (x >= 250 && x < 270) || (x >= 279 && x < 330) ? 255.0 : 0.0; });
    const auto o = test::must(unrolled(mask));
    int solid = 0, all = 0;
    for (const auto& r : test::must(edgeForms(o, 0, int(o.places.size()), mask))) ++all, solid += r.kind == EdgeKind::solid;
    QVERIFY2(solid > 0.97 * all, qPrintable(QString("%1 of %2").arg(solid).arg(all)));
  }
  void softnessIsTheWidthThatWasRendered_data() {
    QTest::addColumn<double>("width");
    for (const double w : {1.5, 3.0, 6.0, 12.0, 20.0}) QTest::addRow("%g px", w) << w;
  }
  void softnessIsTheWidthThatWasRendered() {
    QFETCH(double, width);
    const auto mask = discAlpha(width);
    const auto o = test::must(unrolled(mask));
    const auto r = test::must(edgeReadings(o, 0, int(o.places.size()), mask, flatRaster(90, 90, 90), flatRaster(90, 90, 90)));
    double mean = 0;
    for (const auto& e : r) mean += double(e.softnessPx) / double(r.size());
    QVERIFY2(std::abs(mean - 0.8 * width) < 0.05 * width + (width < 2 ? 0.45 : 0.25), qPrintable(QString::number(mean)));
    // Crisp below about 3.5 px, soft above; never hair.
    for (const auto& e : r) QCOMPARE(e.kind, 0.8 * width > 4 ? EdgeKind::soft : (0.8 * width < 3 ? EdgeKind::solid : e.kind));
  }
  void haloIsThePartOfTheOldBackground() {
    // The edge shows the subject's colour mixed with a share of the background's: the reading is the CIEDE2000 of that mixture.
    const auto mask = discAlpha(4);
    const auto source = test::picture(kDiscSide, kDiscSide, 3, [](int x, int y, int) {
      return std::hypot(x + 0.5 - kMiddle, y + 0.5 - kMiddle) < kRadius ? 60 : 230;
    });
    const auto shownWith = [](double share) {
      return test::picture(kDiscSide, kDiscSide, 3, [share](int x, int y, int) {
        const double d = std::hypot(x + 0.5 - kMiddle, y + 0.5 - kMiddle);
        return d > kRadius - 3 ? 60 + share * 170 : 60;
      });
    };
    const auto o = test::must(unrolled(mask));
    const auto mean = [&](double share) {
      const auto r = test::must(edgeReadings(o, 0, int(o.places.size()), mask, shownWith(share), source));
      double sum = 0;
      for (const auto& e : r) sum += double(e.halo) / double(r.size());
      return sum;
    };
    QVERIFY(mean(0) < 0.5);
    const double some = mean(0.15), more = mean(0.4);
    // 60 → 85.5 and 128 of 255, grey: L* 25.3 → 36.2 and 53.6. CIEDE2000 of greys is the difference of L* over SL.
    QVERIFY2(std::abs(some - 8.6) < 1.0, qPrintable(QString::number(some)));
    QVERIFY2(std::abs(more - 25.6) < 2.5, qPrintable(QString::number(more)));
  }
  void strandsAreHairAndTheRestIsSolid() {
    const auto mask = hairy();
    const auto o = test::must(unrolled(mask));
    const auto r = test::must(edgeReadings(o, 0, int(o.places.size()), mask, flatRaster(90, 90, 90), flatRaster(90, 90, 90)));
    int right = 0, asked = 0;
    for (std::size_t i = 0; i < r.size(); ++i) {
      const double a = std::atan2(o.places[i].at.y - kMiddle, o.places[i].at.x - kMiddle);
      if (std::abs(a) < 0.12 || std::abs(a - 1) < 0.12) continue;  // where one goes over into the other
      ++asked;
      right += (r[i].kind == EdgeKind::hair) == (a > 0 && a < 1);
    }
    QVERIFY2(right > 0.95 * asked, qPrintable(QStringLiteral("%1 of %2").arg(right).arg(asked)));
  }
  void theStripShowsInsideBelowAndGroundAbove() {
    const auto mask = discAlpha(1);
    const auto o = test::must(unrolled(mask));
    const auto s = test::must(edgeStrip(o, 100, 50, 12, mask, flatRaster(200, 40, 40), {0.1, 0.5, 0.2}));
    QCOMPARE(s.size(), base::Size({50, 25}));
    for (int x = 0; x < 50; ++x) {
      QVERIFY(std::abs(int(s.at(x, 24)[0]) - 200) <= 1 && std::abs(int(s.at(x, 24)[1]) - 40) <= 1);
      QVERIFY(std::abs(int(s.at(x, 0)[0]) - 26) <= 1 && std::abs(int(s.at(x, 0)[1]) - 128) <= 1);
    }
  }
  void longestOutlineComesFirstAndHolesFollow() {
    const auto mask = test::picture(kDiscSide, kDiscSide, 1, [](int x, int y, int) {
      const double d = std::hypot(x - kMiddle, y - kMiddle);
      return d < kRadius && d > 50 ? 255 : 0;
    });
    const auto o = test::must(unrolled(mask));
    QCOMPARE(o.places.front().outline, 0);
    QCOMPARE(o.places.back().outline, 1);
    // Of a hole, outwards is to its middle.
    const auto& p = o.places.back();
    QVERIFY((p.at.x - kMiddle) * p.outward.x + (p.at.y - kMiddle) * p.outward.y < -40);
    QVERIFY(test::must(unrolled(image::uniformCoverage({80, 80}, 0, test::memory()))).places.empty());
  }
};
HSEAM_TEST(UnrolledTest);
#include "unrolled_test.moc"
