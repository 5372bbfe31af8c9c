#include "core/frames/montage.h"

#include <cmath>

#include "figures.h"

using namespace hseam;
using namespace hseam::test;

class MontageTest : public QObject {
  Q_OBJECT
 private slots:
  void whoIsPickedComesWholeAndNobodyElseDoes_data() {
    QTest::addColumn<int>("frames");
    QTest::newRow("two frames") << 2;
    QTest::newRow("four frames") << 4;
  }
  void whoIsPickedComesWholeAndNobodyElseDoes() {
    QFETCH(int, frames);
    const test::ShownPlace place(5, kMontageSize);
    const std::vector<Figure> figures{
        {120, 200, 34, 90, 0.5}, {260, 230, 30, 80, 0.08}, {400, 180, 36, 95, 0.7}, {540, 240, 28, 85, 0.3}};
    const Figure stranger{330, 90, 24, 50, 0.6};  // walks through the last frame
    std::vector<frames::Frame> stack;
    image::Raster<std::uint8_t> picks(kMontageSize.width, kMontageSize.height, 1);
    for (int k = 0; k < frames; ++k) {
      std::vector<Figure> here{figures[std::size_t(k)]};
      if (k == frames - 1) here.push_back(stranger);
      stack.push_back({frameWith(place, here, 40 + k)});
      strokeThrough(picks, figures[std::size_t(k)], k + 1);
    }
    const auto made = test::must(frames::montage(stack, test::picture(picks), frames::UnpickedOfBase::goes, test::here(), {}));
    for (int k = 0; k < frames; ++k) {
      const Shares s = sharesIn(made.labels, figures[std::size_t(k)], k + 1);
      QVERIFY2(s.own >= 0.999 * s.pixels, qPrintable(QStringLiteral("figure %1: %2").arg(k + 1).arg(s.own / s.pixels)));
    }
    const Shares left = sharesIn(made.labels, stranger, frames);
    QVERIFY2(left.own <= 0.001 * left.pixels, qPrintable(QString::number(left.own / left.pixels)));
    const auto labels = test::must(image::read8(made.labels, 0, base::Rect::of(kMontageSize)));
    for (std::size_t i = 0; i < picks.samples().size(); ++i)
      QVERIFY(picks.samples()[i] == 0 || labels.samples()[i] == picks.samples()[i]);
    // Everything else looks like the place, shadows with their figures.
    std::vector<Figure> all(figures.begin(), figures.begin() + frames);
    const auto truth = test::must(image::readFloat(frameWith(place, all, 99), 0, base::Rect::of(kMontageSize)));
    const auto got = test::must(image::readFloat(made.picture, 0, base::Rect::of(kMontageSize)));
    double sum = 0;
    int far = 0;
    for (std::size_t i = 0; i < truth.samples().size(); ++i) {
      const double d = std::abs(double(truth.samples()[i]) - double(got.samples()[i]));
      sum += d;
      far += d > 0.06;
    }
    const double mean = sum / double(truth.samples().size()), share = far / double(truth.samples().size());
    QVERIFY2(mean < 0.008, qPrintable(QString::number(mean)));  // the noise of both: 0.0045
    QVERIFY2(share < 0.004, qPrintable(QString::number(share)));
  }
  // The shadow of one picked figure falls where another one stands: that one is whole all the same, feet and hands.
  void aShadowDoesNotCutOffWhoStandsInIt() {
    const test::ShownPlace place(9, kMontageSize);
    const std::vector<Figure> figures{{200, 200, 34, 90, 0.5},
                                      {264, 240, 26, 62, 0.28},
                                      {400, 160, 24, 60, 0.6},
                                      {480, 220, 32, 90, 0.6},
                                      {570, 180, 24, 80, 0.1}};
    std::vector<frames::Frame> stack;
    image::Raster<std::uint8_t> picks(kMontageSize.width, kMontageSize.height, 1);
    for (std::size_t k = 0; k < figures.size(); ++k) {
      stack.push_back({frameWith(place, {figures[k]}, 70 + double(k))});
      // Small strokes, through the heads: what else belongs to a figure is found.
      Figure head = figures[k];
      head.y -= head.h / 2, head.h /= 4;
      strokeThrough(picks, head, int(k) + 1);
    }
    const auto made = test::must(frames::montage(stack, test::picture(picks), frames::UnpickedOfBase::goes, test::here(), {}));
    for (std::size_t k = 0; k < figures.size(); ++k) {
      const Shares s = sharesIn(made.labels, figures[k], int(k) + 1);
      QVERIFY2(s.own >= 0.999 * s.pixels, qPrintable(QStringLiteral("figure %1: %2").arg(k + 1).arg(s.own / s.pixels)));
    }
  }
  void theLightestOfEachPlaceIsTaken() {
    const auto lamp = [&](double x0) {
      return test::picture(200, 120, 3,
                           [=](int x, int y, int c) { return 20 + 200 * std::exp(-std::hypot(x - x0, y - 60.0) / 25) + c; });
    };
    const auto made = test::must(frames::lightest({{lamp(40)}, {lamp(160)}}, test::here(), {}));
    const auto labels = test::must(image::read8(made.labels, 0, {0, 0, 200, 120}));
    QCOMPARE(int(*labels.at(40, 60)), 1);
    QCOMPARE(int(*labels.at(160, 60)), 2);
    const auto got = test::must(image::read8(made.picture, 0, {0, 0, 200, 120}));
    QVERIFY(got.at(40, 60)[0] > 200 && got.at(160, 60)[0] > 200);
  }
  void whatDoesNotFitIsRefused() {
    const auto a = test::picture(64, 48, 3, [](int x, int, int) { return x; });
    const auto b = test::picture(65, 48, 3, [](int x, int, int) { return x; });
    const auto none = image::uniformCoverage({64, 48}, 0, test::memory());
    QCOMPARE(int(frames::montage({{a}, {b}}, none, frames::UnpickedOfBase::goes, test::here(), {}).error().code),
             int(base::Code::conflict));
    QCOMPARE(int(frames::montage({{a}}, image::uniformCoverage({64, 48}, 2, test::memory()), frames::UnpickedOfBase::goes,
                                 test::here(), {})
                     .error()
                     .code),
             int(base::Code::invalid));
    QCOMPARE(int(frames::montage({}, none, frames::UnpickedOfBase::goes, test::here(), {}).error().code),
             int(base::Code::invalid));
  }
};
HSEAM_TEST(MontageTest);
#include "montage_test.moc"
