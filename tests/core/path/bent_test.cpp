#include "core/path/bent.h"

#include <QTest>
#include <cmath>
#include <numbers>

#include "../../test_main.h"

using namespace hseam;
using namespace hseam::path;
using base::Point;

namespace {

// Onto a circle about the origin: x goes round, y outwards.
Point wound(Point p) {
  const double turn = p.x / 100, r = 200 + p.y;
  return {r * std::cos(turn), r * std::sin(turn)};
}

}  // namespace

class BentPathTest : public QObject {
  Q_OBJECT
 private slots:
  // A straight edge becomes an arc whose radius is known.
  void aStraightEdgeBecomesTheArc() {
    Path straight;
    straight.outlines = {{{corner({0, 0}), corner({300, 0}), corner({300, 50}), corner({0, 50})}, true, Joins::takeAway}};
    const Path bend = bent(straight, wound, 0.05);
    QCOMPARE(bend.outlines.size(), std::size_t(1));
    QVERIFY(bend.outlines[0].closed && bend.outlines[0].joins == Joins::takeAway);
    double inner = 0, outer = 0;
    int onInner = 0, onOuter = 0;
    for (int i = 0; i < segmentCount(bend.outlines[0]); ++i) {
      for (int k = 0; k <= 20; ++k) {
        const Point p = pointAt(segment(bend.outlines[0], i), k / 20.0);
        const double r = std::hypot(p.x, p.y);
        QVERIFY(r > 199.9 && r < 250.1);
        if (r < 201) inner = std::max(inner, std::abs(r - 200)), ++onInner;
        if (r > 249) outer = std::max(outer, std::abs(r - 250)), ++onOuter;
      }
    }
    QVERIFY(onInner > 60 && onOuter > 60);
    QVERIFY2(inner < 0.06 && outer < 0.06, qPrintable(QStringLiteral("%1 %2").arg(inner).arg(outer)));
    // As few cubics as that takes: three radians of arc need no more than a dozen.
    QVERIFY2(bend.outlines[0].nodes.size() <= 26, qPrintable(QString::number(bend.outlines[0].nodes.size())));
  }
  void whatIsNotBentStaysAsItIs() {
    Path p;
    p.outlines = {{{{{10, 10}, {5, 20}, {15, 0}, true}, {{60, 30}, {50, 30}, {70, 30}, true}, corner({20, 80})}, true}};
    const Path same = bent(
        p,
        [](Point q) {
          return Point{q.x + 7, q.y - 3};
        },
        0.1);
    QCOMPARE(same.outlines[0].nodes.size(), std::size_t(3));
    for (int i = 0; i < 3; ++i) {
      for (int k = 0; k <= 10; ++k) {
        const Point a = pointAt(segment(p.outlines[0], i), k / 10.0), b = pointAt(segment(same.outlines[0], i), k / 10.0);
        QVERIFY(std::hypot(b.x - a.x - 7, b.y - a.y + 3) < 0.1);
      }
    }
    QVERIFY(same.outlines[0].nodes[0].smooth && !same.outlines[0].nodes[2].smooth);
  }
  void openOutlinesStayOpenAndBoundsHoldThem() {
    Path p;
    p.outlines = {{{corner({0, 0}), corner({157.0796, 0})}, false}};
    const Path bend = bent(p, wound, 0.05);
    const auto& nodes = bend.outlines[0].nodes;
    QVERIFY(!bend.outlines[0].closed && nodes.size() >= 2);
    QVERIFY(std::hypot(nodes.back().at.x, nodes.back().at.y - 200) < 0.01);
    const base::Rect box = boundsOf(bend);
    QVERIFY(box.x <= 0 && box.right() >= 200 && box.right() <= 201 && box.bottom() >= 200 && box.bottom() <= 201);
    QVERIFY(boundsOf(Path{}).empty());
  }
};

HSEAM_TEST(BentPathTest);
#include "bent_test.moc"
