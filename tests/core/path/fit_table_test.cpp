// How many nodes a fit to pixels needs, against the number that the outline was made of.

#include <QTest>
#include <cmath>

#include "core/path/contour.h"
#include "core/path/cover.h"
#include "core/path/fit.h"
#include "pictures.h"
#include "test_main.h"
#include "truth/known_outlines.h"

using namespace hseam;

class FitTableTest : public QObject {
  Q_OBJECT
  int used_ = 0, fewest_ = 0;

 private slots:
  void fewNodesThatStayClose_data() {
    QTest::addColumn<int>("which");
    const auto all = truth::knownOutlines();
    for (int i = 0; i < int(all.size()); ++i) QTest::newRow(all[std::size_t(i)].name.c_str()) << i;
  }
  void fewNodesThatStayClose() {
    QFETCH(int, which);
    const truth::KnownOutline known = truth::knownOutlines()[std::size_t(which)];
    const auto coverage = test::must(path::coverage({{known.outline}}, {600, 500}, test::memory(), test::here()));
    const auto contours = test::must(path::contours(coverage, 20));
    QCOMPARE(contours.size(), std::size_t(1));
    const path::Fit fit = path::fitted(contours[0].points, 0.5);
    QVERIFY2(fit.deviationPx <= 0.5, qPrintable(QString::number(fit.deviationPx)));
    const int nodes = int(fit.outline.nodes.size());
    used_ += nodes;
    fewest_ += known.fewest;
    // Held against the outline it came from, not against the pixels between.
    double worst = 0;
    for (const base::Point& p : path::flattened(fit.outline, 0.05)) {
      const auto place = path::nearest({{known.outline}}, p);
      QVERIFY(place.has_value());
      worst = std::max(worst, place->distance);
    }
    std::printf("  %-22s made of %2d, fitted with %2d, deviation %.2f px of the contour, %.2f px of the outline\n",
                known.name.c_str(), known.fewest, nodes, fit.deviationPx, worst);
    QVERIFY2(worst < 0.8, qPrintable(QString::number(worst)));
    QVERIFY2(nodes <= 2 * known.fewest, qPrintable(QString("%1 for %2").arg(nodes).arg(known.fewest)));
  }
  void allTogether() { QVERIFY2(used_ <= 1.13 * fewest_, qPrintable(QString("%1 for %2").arg(used_).arg(fewest_))); }
};

HSEAM_TEST(FitTableTest);
#include "fit_table_test.moc"
