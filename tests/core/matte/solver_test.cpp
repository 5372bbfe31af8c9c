#include "core/matte/solver.h"

#include "core/matte/foreground.h"
#include "core/matte/laplacian.h"
#include "strands.h"

using namespace hseam;
using namespace hseam::matte;

namespace {

image::TiledImage tiledPicture(const image::Raster<float>& r) {
  return test::picture(r.width(), r.height(), r.channels(), [&](int x, int y, int c) { return double(r.at(x, y)[c]) * 255; });
}

}  // namespace

class SolverTest : public QObject {
  Q_OBJECT
 private slots:
  void strandsAreFound_data() {
    QTest::addColumn<double>("texture");
    QTest::addColumn<double>("bound");
    // What colour sampling alone gets wrong here is about twice the bound; a band taken as half is ten times as wrong.
    QTest::newRow("plain ground") << 0.0 << 0.020;
    QTest::newRow("patterned ground") << 0.10 << 0.035;
  }
  void strandsAreFound() {
    QFETCH(double, texture);
    QFETCH(double, bound);
    const auto s = test::strands(360, texture, 7);
    const auto alpha = test::must(solveAlpha(s.picture, s.band, {}, test::here(), {}));
    const double e = test::meanError(alpha, s);
    QVERIFY2(e < bound, qPrintable(QString::number(e)));
    qInfo("mean error %.4f", e);
  }
  void decidedPixelsStay() {
    const auto s = test::strands(200, 0.1, 3);
    const auto alpha = test::must(solveAlpha(s.picture, s.band, {}, test::here(), {}));
    for (std::size_t i = 0; i < alpha.samples().size(); ++i) {
      const Known k = knownOf(s.band.samples()[i]);
      if (k == Known::subject) QCOMPARE(alpha.samples()[i], 1.f);
      if (k == Known::background) QCOMPARE(alpha.samples()[i], 0.f);
      QVERIFY(alpha.samples()[i] >= 0.f && alpha.samples()[i] <= 1.f);
    }
  }
  void anyNumberOfThreadsGivesTheSameBits() {
    const auto s = test::strands(260, 0.1, 4);
    const auto one = test::must(solveAlpha(s.picture, s.band, {}, test::here(), {}));
    for (const int threads : {2, 5}) {
      const auto pool = base::makePool(threads);
      QVERIFY(test::must(solveAlpha(s.picture, s.band, {}, *pool, {})).samples() == one.samples());
    }
  }
  void theLaplacianHasConstantsAndColoursInItsNullSpace() {
    // An alpha that is a linear function of colour costs nothing (Levin 2008, theorem 1): solving from its own values on the
    // border must give it back inside. All colours lie on one line, as in a grey picture: inverting their covariance by
    // cofactors loses that.
    image::Raster<float> picture(60, 60, 3);
    image::Raster<std::uint8_t> band(60, 60, 1, kUndecided);
    test::Noise noise(3);
    const auto alphaAt = [&](int x, int) { return x < 20 ? 0.0 : (x >= 40 ? 1.0 : (x - 19.5) / 20); };
    for (int y = 0; y < 60; ++y) {
      for (int x = 0; x < 60; ++x) {
        if (x < 18) *band.at(x, y) = kBackground;
        if (x >= 42) *band.at(x, y) = kSubject;
        for (int c = 0; c < 3; ++c) picture.at(x, y)[c] = float(0.2 + (0.5 - 0.1 * c) * alphaAt(x, y));
      }
    }
    const Laplacian system(picture, band, 1e-9, test::here());
    const std::vector<double> zero(std::size_t(system.size()), 0.0);
    const auto s = test::must(system.solve(zero, zero, zero, 1e-9, 3000, test::here(), {}));
    for (int i = 0; i < system.size(); ++i) {
      const int at = system.pixels()[std::size_t(i)];
      QVERIFY2(std::abs(s.alpha[std::size_t(i)] - alphaAt(at % 60, at / 60)) < 1e-3,
               qPrintable(QStringLiteral("x %1: %2").arg(at % 60).arg(s.alpha[std::size_t(i)])));
    }
  }
  void aBandWithoutBothSidesIsRefused() {
    const auto s = test::strands(120, 0, 1);
    const image::Raster<std::uint8_t> noSubject(120, 120, 1, kUndecided);
    QCOMPARE(solveAlpha(s.picture, noSubject, {}, test::here(), {}).error().code, base::Code::invalid);
  }
  void stoppingStops() {
    std::stop_source stop;
    stop.request_stop();
    const auto s = test::strands(120, 0, 1);
    QCOMPARE(solveAlpha(s.picture, s.band, {}, test::here(), base::Progress(stop.get_token())).error().code,
             base::Code::cancelled);
  }
  void progressRisesToTheEnd() {
    double last = 0;
    bool falls = false;
    const auto s = test::strands(160, 0.05, 2);
    test::must(solveAlpha(s.picture, s.band, {}, test::here(), base::Progress({}, [&](double share) {
                            falls |= share < last - 1e-9;
                            last = share;
                          })));
    QVERIFY(!falls);
    QCOMPARE(last, 1.0);
  }
  void ownColoursAreTheSubjectsNotTheGrounds() {
    const auto s = test::strands(300, 0.05, 9);
    const auto own = test::must(ownColours(s.picture, s.alpha, test::here(), {}));
    double mine = 0, untouched = 0, weights = 0;
    for (std::size_t i = 0; i < own.pixels.size(); ++i) {
      const std::size_t at = std::size_t(own.pixels[i]);
      const double a = double(s.alpha.samples()[at]);
      if (a < 0.15 || a > 0.95) continue;
      for (std::size_t c = 0; c < 3; ++c) {
        mine += a * double(std::abs(own.colours[i][c] - s.colours.samples()[at * 3 + c]));
        untouched += a * double(std::abs(s.picture.samples()[at * 3 + c] - s.colours.samples()[at * 3 + c]));
        weights += a;
      }
    }
    QVERIFY2(mine / weights < 0.018, qPrintable(QString::number(mine / weights)));
    QVERIFY2(mine < 0.22 * untouched, qPrintable(QStringLiteral("%1 of %2").arg(mine / weights).arg(untouched / weights)));
  }
  void aTiledCutReadsOnlyWhatItMust() {
    const auto s = test::strands(360, 0.1, 7);
    const auto source = tiledPicture(s.picture);
    const auto band = test::picture(360, 360, 1, [&](int x, int y, int) { return *s.band.at(x, y); });
    const Cut cut = test::must(solveCut(source, band, {}, image::PixelFormat::grey8, test::here(), {}));
    QCOMPARE(cut.alpha.format(), image::PixelFormat::grey8);
    QVERIFY(test::meanError(test::must(image::readFloat(cut.alpha, 0, {0, 0, 360, 360})), s) < 0.036);
    // Far from the band the clean colours are the source's own tiles or at least its own values.
    const auto px = test::must(image::read8(cut.clean, 0, {0, 0, 360, 360})),
               from = test::must(image::read8(source, 0, {0, 0, 360, 360}));
    for (int y = 0; y < 360; ++y) {
      for (int x = 0; x < 360; ++x) {
        const auto near = [&](int d) {
          return knownOf(*s.band.at(std::clamp(x + d % 3 - 1, 0, 359), std::clamp(y + d / 3 - 1, 0, 359))) == Known::undecided;
        };
        bool any = false;
        for (int d = 0; d < 9; ++d) any |= near(d);
        if (!any) QVERIFY(std::equal(px.at(x, y), px.at(x, y) + 3, from.at(x, y)));
      }
    }
  }
  void wideAlphaAgreesWithTheNarrow() {
    const auto s = test::strands(160, 0, 5);
    const auto source = tiledPicture(s.picture);
    const auto band = test::picture(160, 160, 1, [&](int x, int y, int) { return *s.band.at(x, y); });
    const auto narrow = test::must(image::readFloat(
        test::must(solveCut(source, band, {}, image::PixelFormat::grey8, test::here(), {})).alpha, 0, {0, 0, 160, 160}));
    const auto wide = test::must(image::readFloat(
        test::must(solveCut(source, band, {}, image::PixelFormat::grey16, test::here(), {})).alpha, 0, {0, 0, 160, 160}));
    for (std::size_t i = 0; i < wide.samples().size(); ++i) QVERIFY(std::abs(narrow.samples()[i] - wide.samples()[i]) < 0.0021f);
  }
  void paintingOutlivesSolvingAgain() {
    const auto oldAlpha = test::picture(300, 300, 1, [](int x, int, int) { return x / 2; });
    const auto newAlpha = test::picture(300, 300, 1, [](int x, int, int) { return 255 - x / 2; });
    const auto painted =
        test::must(image::withPixels(oldAlpha, {50, 60, 40, 30}, image::Raster<std::uint8_t>(40, 30, 1, 200), test::here()));
    const auto mask = test::must(maskAfterSolving(painted, oldAlpha, newAlpha, test::here()));
    QCOMPARE(int(*test::must(image::read8(mask, 0, {60, 70, 1, 1})).at(0, 0)), 200);
    QCOMPARE(int(*test::must(image::read8(mask, 0, {150, 150, 1, 1})).at(0, 0)), 255 - 75);
    QCOMPARE(test::must(maskAfterSolving({}, oldAlpha, newAlpha, test::here())).stamp(), newAlpha.stamp());
    QCOMPARE(test::must(maskAfterSolving(oldAlpha, oldAlpha, newAlpha, test::here())).stamp(), newAlpha.stamp());
  }
};
HSEAM_TEST(SolverTest);
#include "solver_test.moc"
