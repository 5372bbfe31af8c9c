#include "core/matte/edge_snap.h"

#include <QTest>
#include <cmath>

#include "core/matte/edge_fit.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;

namespace {

image::TiledImage over(const std::function<double(double, double)>& outwards) {
  return test::picture(500, 400, 3, [&](int x, int y, int c) {
    const double a = matte::coverageAcross(outwards(x + 0.5, y + 0.5), 0, 0.8), in[] = {180, 70, 40}, out[] = {60, 90, 150};
    return a * in[c] + (1 - a) * out[c];
  });
}

path::Path ellipse(double rx, double ry) {
  path::Outline o;
  o.closed = true;
  constexpr double k = 0.5522847498;
  for (int i = 0; i < 4; ++i) {
    const double c = std::cos(i * M_PI / 2), s = std::sin(i * M_PI / 2);
    const base::Point at{250 + rx * c, 200 + ry * s};
    o.nodes.push_back({at, {at.x + s * rx * k, at.y - c * ry * k}, {at.x - s * rx * k, at.y + c * ry * k}, true});
  }
  return {{o}};
}

}  // namespace

class EdgeSnapTest : public QObject {
  Q_OBJECT
 private slots:
  void nodesOfARoundPathGoOntoTheEdge() {
    const auto picture = over([](double x, double y) { return std::hypot(x - 250, y - 200) - 120.4; });
    const path::Path start = ellipse(117.5, 122.5);
    const path::Path snapped = test::must(matte::snappedToEdges(start, picture, 6, {}));
    QCOMPARE(snapped.outlines[0].nodes.size(), std::size_t(4));
    for (const auto& n : snapped.outlines[0].nodes) {
      const double off = std::hypot(n.at.x - 250, n.at.y - 200) - 120.4;
      QVERIFY2(std::abs(off) < 0.25, qPrintable(QString::number(off)));
    }
    // Not further than it may.
    const path::Path bound = test::must(matte::snappedToEdges(start, picture, 1, {}));
    for (std::size_t i = 0; i < 4; ++i)
      QVERIFY(std::hypot(bound.outlines[0].nodes[i].at.x - start.outlines[0].nodes[i].at.x,
                         bound.outlines[0].nodes[i].at.y - start.outlines[0].nodes[i].at.y) < 1.51);
  }
  void cornersGoWhereBothSidesMeet() {
    const auto picture = over([](double x, double y) { return std::max(std::abs(x - 250) - 130.3, std::abs(y - 200) - 90.7); });
    path::Outline o;
    o.closed = true;
    for (const base::Point& p : {base::Point{122, 106}, {378, 106}, {378, 294}, {122, 294}}) o.nodes.push_back(path::corner(p));
    const path::Path snapped = test::must(matte::snappedToEdges({{o}}, picture, 6, {}));
    for (const auto& n : snapped.outlines[0].nodes) {
      QVERIFY2(std::abs(std::abs(n.at.x - 250) - 130.3) < 0.4, qPrintable(QString::number(n.at.x)));
      QVERIFY2(std::abs(std::abs(n.at.y - 200) - 90.7) < 0.4, qPrintable(QString::number(n.at.y)));
    }
  }
  void withoutAnEdgeItStays() {
    const auto flat = test::picture(500, 400, 3, [](int, int, int) { return 90.0; });
    const path::Path start = ellipse(100, 80);
    QVERIFY(test::must(matte::snappedToEdges(start, flat, 6, {})) == start);
  }
};

HSEAM_TEST(EdgeSnapTest);
#include "edge_snap_test.moc"
