// Stamped strands: the same for the same seed, no two stamps alike, and they point where they should.

#include <cmath>
#include <numeric>

#include "core/paint/strand_stroke.h"
#include "pictures.h"
#include "test_main.h"

#include <QTest>

using namespace hseam;
using paint::Growth;

namespace {

constexpr int kSide = 700;

image::Raster<std::uint8_t> painted(const paint::StrandSettings& s, double direction, std::uint8_t value = 255,
                                    std::uint8_t before = 0, Growth growth = Growth::hair, int stamps = 1) {
  std::vector<paint::StrandTip> tips;
  for (std::uint64_t i = 0; i < 4; ++i) tips.push_back(paint::StrandTip::grown(growth, i, 0));
  paint::StrandStroke stroke(
      image::uniformCoverage({kSide, kSide}, before, test::memory()), std::move(tips), s,
      [=](base::Point, double) { return direction; }, value);
  const double step = s.spacing * s.lengthPx;
  const paint::Sample samples[] = {{{350, 350}, 1}, {{350 + step * stamps, 350}, 1}};
  const base::Rect changed = test::must(stroke.to(samples, test::here()));
  const auto out = test::must(image::read8(stroke.image(), 0, {0, 0, kSide, kSide}));
  for (int y = 0; y < kSide; ++y) {
    for (int x = 0; x < kSide; ++x) {
      if (!changed.contains(x, y)) Q_ASSERT(*out.at(x, y) == before);
    }
  }
  return out;
}

double sumOf(const image::Raster<std::uint8_t>& r) {
  return std::accumulate(r.samples().begin(), r.samples().end(), 0.0) / 255;
}

}  // namespace

class StrandTest : public QObject {
  Q_OBJECT
 private slots:
  void aStampPointsWhereItShould_data() {
    QTest::addColumn<int>("growth");
    for (const Growth g : {Growth::hair, Growth::grass}) QTest::addRow("%d", int(g)) << int(g);
  }
  void aStampPointsWhereItShould() {
    QFETCH(int, growth);
    for (const double direction : {-2.0, -0.4, 0.9, 2.9}) {
      paint::StrandSettings s;
      s.lengthPx = 200, s.angleVariesDeg = 0, s.sizeVaries = 0;
      const auto r = painted(s, direction, 255, 0, Growth(growth), 1);
      // The centre of what was painted lies in that direction of its root.
      double x = 0, y = 0, all = 0;
      for (int j = 0; j < kSide; ++j) {
        for (int i = 0; i < kSide; ++i) x += i * double(*r.at(i, j)), y += j * double(*r.at(i, j)), all += *r.at(i, j);
      }
      QVERIFY(all > 255 * 500);
      const double dx = x / all - (350 + s.spacing * s.lengthPx / 2), dy = y / all - 350;
      QVERIFY2(std::abs(std::remainder(std::atan2(dy, dx) - direction, 2 * M_PI)) < 0.2,
               qPrintable(QString("%1: %2").arg(direction).arg(std::atan2(dy, dx))));
      QVERIFY(std::hypot(dx, dy) > 50 && std::hypot(dx, dy) < 120);
    }
  }
  void theSeedDecidesAndStampsDiffer() {
    paint::StrandSettings s;
    const auto one = painted(s, -1.5, 255, 0, Growth::fur, 8);
    QVERIFY(painted(s, -1.5, 255, 0, Growth::fur, 8).samples() == one.samples());
    s.seed = 2;
    QVERIFY(painted(s, -1.5, 255, 0, Growth::fur, 8).samples() != one.samples());
  }
  void hidingTakesAwayAndStrengthIsItsLimit() {
    paint::StrandSettings s;
    s.strength = 0.5;
    const auto r = painted(s, 0, 0, 255, Growth::grass, 1);
    const int least = *std::min_element(r.samples().begin(), r.samples().end());
    QVERIFY2(least >= 126 && least < 140, qPrintable(QString::number(least)));
  }
  void smallStampsKeepTheirCoverage() {
    // A tip reduced by four covers a sixteenth of the area: none of its strands is lost between pixels.
    paint::StrandSettings large, small;
    for (auto* s : {&large, &small}) s->sizeVaries = 0, s->angleVariesDeg = 0, s->strength = 1;
    large.lengthPx = 240, small.lengthPx = 60;
    const double ratio = sumOf(painted(large, -1.2)) / sumOf(painted(small, -1.2));
    QVERIFY2(ratio > 13 && ratio < 19, qPrintable(QString::number(ratio)));
  }
  void everyGrowthHasItsOwnLook() {
    std::vector<double> sums;
    paint::StrandSettings s;
    s.lengthPx = 200, s.sizeVaries = 0;
    for (const Growth g : {Growth::hair, Growth::fur, Growth::grass, Growth::leaves, Growth::wool})
      sums.push_back(sumOf(painted(s, -1.5, 255, 0, g)));
    for (std::size_t i = 0; i < sums.size(); ++i) {
      QVERIFY2(sums[i] > 400 && sums[i] < 20000, qPrintable(QString("%1: %2").arg(i).arg(sums[i])));
      for (std::size_t k = 0; k < i; ++k) QVERIFY(std::abs(sums[i] - sums[k]) > 20);
    }
  }
  void anOwnTipKeepsItsForm() {
    image::Raster<std::uint8_t> bar(40, 120);
    for (int y = 0; y < 120; ++y) {
      for (int x = 15; x < 25; ++x) *bar.at(x, y) = 255;
    }
    const auto tip = paint::StrandTip::from(bar, 0);
    QVERIFY(tip.at(0, 0.5, 256) > 0.95f);
    QVERIFY(tip.at(0.1, 0.5, 256) < 0.05f);  // 10 of 120 px wide: beyond 1/24 to each side there is nothing
    QVERIFY(paint::StrandTip::from(bar, 0.5).at(0.06, 0.5, 256) > tip.at(0.06, 0.5, 256) + 0.05f);
  }
};

HSEAM_TEST(StrandTest);
#include "strand_test.moc"
