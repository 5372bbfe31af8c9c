#include <QTest>
#include <cmath>
#include <numbers>

#include "../../pictures.h"
#include "../../test_main.h"
#include "core/path/contour.h"
#include "core/path/cover.h"
#include "core/path/edit.h"
#include "core/path/fit.h"

using namespace hseam;
using namespace hseam::path;
using base::Point;

namespace {

constexpr double kRound = 0.5522847498307936;  // the circle's handle length: 4/3·(√2 − 1)

Outline ellipsePath(Point c, double rx, double ry) {
  const double kx = rx * kRound, ky = ry * kRound;
  Outline o;
  o.closed = true;
  o.nodes = {{{c.x + rx, c.y}, {c.x + rx, c.y - ky}, {c.x + rx, c.y + ky}, true},
             {{c.x, c.y + ry}, {c.x + kx, c.y + ry}, {c.x - kx, c.y + ry}, true},
             {{c.x - rx, c.y}, {c.x - rx, c.y + ky}, {c.x - rx, c.y - ky}, true},
             {{c.x, c.y - ry}, {c.x - kx, c.y - ry}, {c.x + kx, c.y - ry}, true}};
  return o;
}
Outline polygon(const std::vector<Point>& points) {
  Outline o;
  o.closed = true;
  for (const Point& p : points) o.nodes.push_back(corner(p));
  return o;
}
Outline star(Point c, double outer, double inner, int n) {
  std::vector<Point> p;
  for (int i = 0; i < 2 * n; ++i) {
    const double a = i * std::numbers::pi / n + 0.3, r = i % 2 ? inner : outer;
    p.push_back({c.x + r * std::cos(a), c.y + r * std::sin(a)});
  }
  return polygon(p);
}

// Whether a point is inside an outline, by the winding number of a fine polygon: no code of the rasteriser.
class Inside {
 public:
  explicit Inside(const Outline& o) {
    for (int i = 0; i < segmentCount(o); ++i) {
      for (int k = 0; k < 200; ++k) points_.push_back(pointAt(segment(o, i), k / 200.0));
    }
  }
  bool operator()(double x, double y) const {
    int winding = 0;
    for (const auto& [at, step] : crossings(y)) winding += x < at ? step : 0;
    return winding != 0;
  }
  // Where a horizontal line is crossed, and in which sense.
  std::vector<std::pair<double, int>> crossings(double y) const {
    std::vector<std::pair<double, int>> all;
    for (std::size_t i = 0; i < points_.size(); ++i) {
      const Point &a = points_[i], &b = points_[(i + 1) % points_.size()];
      if ((a.y <= y) != (b.y <= y)) all.emplace_back(a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x), a.y < b.y ? 1 : -1);
    }
    return all;
  }

 private:
  std::vector<Point> points_;
};

double share64(const Inside& inside, int x, int y) {
  int hits = 0;
  // Rows are shifted against each other by the golden ratio, so that upright edges are sampled finely too.
  for (int i = 0; i < 64; ++i) {
    const double shift = i * 0.6180339887 - std::floor(i * 0.6180339887);
    const auto row = inside.crossings(y + (i + 0.5) / 64);
    for (int k = 0; k < 64; ++k) {
      int winding = 0;
      for (const auto& [at, step] : row) winding += x + (k + shift) / 64 < at ? step : 0;
      hits += winding != 0;
    }
  }
  return hits / 4096.0;
}

}  // namespace

class PathTest : public QObject {
  Q_OBJECT
 private slots:
  void coverageIsTheExactArea_data() {
    QTest::addColumn<int>("shape");
    for (int i = 0; i < 6; ++i) QTest::addRow("shape %d", i) << i;
  }
  // Against 64 × 64 samples a pixel.
  void coverageIsTheExactArea() {
    QFETCH(int, shape);
    const Outline shapes[] = {ellipsePath({20.3, 18.7}, 15.2, 11.9),
                              star({19.5, 20.2}, 18, 6.5, 7),
                              polygon({{3.1, 4.2}, {33.7, 6.9}, {20.05, 35.3}}),
                              ellipsePath({18, 18}, 0.4, 14),
                              polygon({{5, 5}, {30, 5}, {30, 30}, {5, 30}}),
                              polygon({{-8.5, 10.25}, {50.5, 12.75}, {20, 60}})};
    const Outline& o = shapes[shape];
    const auto got = coverageIn({{o}}, {0, 0, 38, 38});
    const Inside inside(o);
    double worst = 0;
    for (int y = 0; y < 38; ++y) {
      for (int x = 0; x < 38; ++x) {
        // Only where an edge may be; the rest is looked at once.
        const double v = *got.at(x, y) / 255.0;
        const double truth = v > 0 && v < 1 ? share64(inside, x, y) : double(inside(x + 0.5, y + 0.5));
        worst = std::max(worst, std::abs(v - truth));
      }
    }
    QVERIFY2(worst <= 1 / 255.0, qPrintable(QString::number(worst * 255)));
  }
  void areasAddUpToTheTruth() {
    // The mean of all errors must vanish far below one grey value: pi·a·b to 0.05 %, and a triangle exactly.
    const auto sum = [](const Outline& o) {
      const auto c = coverageIn({{o}}, {0, 0, 400, 400});
      double all = 0;
      for (const auto v : c.samples()) all += v / 255.0;
      return all;
    };
    const double round = sum(ellipsePath({200.3, 190.6}, 150, 90)), truth = std::numbers::pi * 150 * 90;
    QVERIFY2(std::abs(round / truth - 1) < 5e-4, qPrintable(QString::number(round / truth)));
    QVERIFY(std::abs(sum(polygon({{10, 10}, {390, 10}, {10, 390}})) - 380 * 380 / 2.0) < 1);
  }
  void outlinesJoinInTheirOrder() {
    Path p{{polygon({{10, 10}, {90, 10}, {90, 90}, {10, 90}}), polygon({{30, 30}, {60, 30}, {60, 60}, {30, 60}}),
            polygon({{40, 40}, {50, 40}, {50, 50}, {40, 50}})}};
    p.outlines[1].joins = Joins::takeAway;
    auto c = coverageIn(p, {0, 0, 100, 100});
    QCOMPARE(int(*c.at(20, 20)), 255);
    QCOMPARE(int(*c.at(35, 35)), 0);
    QCOMPARE(int(*c.at(45, 45)), 255);
    QCOMPARE(int(*c.at(5, 5)), 0);
    p.outlines[2].joins = Joins::overlap;
    c = coverageIn(p, {0, 0, 100, 100});
    QCOMPARE(int(*c.at(20, 20)), 0);
    // The way it was drawn round does not matter, and an open outline covers nothing.
    Outline other = polygon({{10, 90}, {90, 90}, {90, 10}, {10, 10}});
    QCOMPARE(int(*coverageIn({{other}}, {0, 0, 100, 100}).at(20, 20)), 255);
    other.closed = false;
    QCOMPARE(int(*coverageIn({{other}}, {0, 0, 100, 100}).at(20, 20)), 0);
  }
  void tiledCoverageIsTheSame() {
    const Path p{{ellipsePath({400, 330}, 310, 220), ellipsePath({400, 330}, 80, 40)}};
    const auto tiled = test::must(coverage(p, {900, 700}, test::memory(), test::here()));
    const auto whole = coverageIn(p, {0, 0, 900, 700});
    QVERIFY(test::must(image::read8(tiled, 0, {0, 0, 900, 700})).samples() == whole.samples());
    QVERIFY(tiled.level(0).tile(3, 2)->uniform().has_value());
  }
  void splittingAndInsertingKeepTheCurve() {
    const Outline o = ellipsePath({100, 100}, 80, 50), more = withNodeAt(o, 1, 0.3);
    QCOMPARE(more.nodes.size(), o.nodes.size() + 1);
    for (double t = 0; t <= 1; t += 0.05) {
      const Point on = pointAt(segment(o, 1), t);
      QVERIFY(nearest({{more}}, on)->distance < 1e-3);
    }
    // Taking it out again gives the very curve back.
    const Outline back = without(more, 2);
    for (double t = 0; t <= 1; t += 0.05)
      QVERIFY2(nearest({{back}}, pointAt(segment(o, 1), t))->distance < 1e-3,
               qPrintable(QString::number(nearest({{back}}, pointAt(segment(o, 1), t))->distance)));
  }
  void theCurveFollowsTheHandThatPullsIt() {
    const Outline o = ellipsePath({100, 100}, 80, 50);
    for (const double t : {0.2, 0.5, 0.7}) {
      const Point was = pointAt(segment(o, 0), t), now = pointAt(segment(pulled(o, 0, t, {7, -4}), 0), t);
      QVERIFY(std::abs(now.x - was.x - 7) < 1e-9 && std::abs(now.y - was.y + 4) < 1e-9);
    }
    const Outline p = pulled(o, 0, 0.5, {9, 9});
    QVERIFY(p.nodes[0].at == o.nodes[0].at);
    // Still smooth: both handles on one line.
    const Node& n = p.nodes[0];
    QVERIFY(std::abs((n.out.x - n.at.x) * (n.in.y - n.at.y) - (n.out.y - n.at.y) * (n.in.x - n.at.x)) < 1e-6);
  }
  void handlesOfSmoothNodesTurnTogether() {
    const Outline o = withHandle(ellipsePath({0, 0}, 10, 10), 0, Handle::out, {10, 20});
    QVERIFY(std::abs(o.nodes[0].in.x - 10) < 1e-9);
    QVERIFY(std::abs(o.nodes[0].in.y + 10 * kRound) < 1e-9);  // its length stays
    const Outline c = withHandle(asCorner(ellipsePath({0, 0}, 10, 10), 0), 0, Handle::out, {30, 30});
    QVERIFY(std::abs(c.nodes[0].in.y + 10 * kRound) < 1e-9 && c.nodes[0].in.x == 10);
    const Outline s = asSmooth(polygon({{0, 0}, {10, 0}, {10, 10}}), 1);
    QVERIFY(s.nodes[1].smooth && s.nodes[1].out != s.nodes[1].at);
  }
  void halvesAreMirroredAndEndsJoined() {
    Outline half;
    half.nodes = {corner({50, 10}), {{80, 40}, {80, 20}, {80, 60}, true}, corner({50, 90})};
    const Outline whole = mirroredAndClosed(half);
    QVERIFY(whole.closed);
    QCOMPARE(whole.nodes.size(), std::size_t(4));
    QVERIFY(std::abs(whole.nodes[3].at.x - 20) < 1e-9 && std::abs(whole.nodes[3].at.y - 40) < 1e-9);
    const auto c = coverageIn({{whole}}, {0, 0, 100, 100});
    for (int y = 0; y < 100; ++y) {
      for (int x = 0; x < 50; ++x) QVERIFY(std::abs(int(*c.at(x, y)) - int(*c.at(99 - x, y))) <= 1);
    }
    Outline a, b;
    a.nodes = {corner({0, 0}), corner({10, 0})};
    b.nodes = {corner({30, 0}), corner({10, 0})};
    const Outline joined = joinedEnds(a, b);
    QCOMPARE(joined.nodes.size(), std::size_t(3));
    QVERIFY(joined.nodes[2].at == Point({30, 0}));
  }
  void aCircleThroughItsPointsIsRound() {
    std::vector<Point> points;
    for (int i = 0; i < 12; ++i)
      points.push_back({100 + 60 * std::cos(i * std::numbers::pi / 6), 100 + 60 * std::sin(i * std::numbers::pi / 6)});
    const Outline o = throughPoints(polygon(points));
    for (int i = 0; i < segmentCount(o); ++i) {
      const Point p = pointAt(segment(o, i), 0.5);
      QVERIFY(std::abs(std::hypot(p.x - 100, p.y - 100) - 60) < 0.15);
    }
    QVERIFY(readingOf(o).wiggle < 0.02);
    QVERIFY(readingOf(star({100, 100}, 60, 20, 8)).wiggle > 0.5);
  }

  // Contours ---------------------------------------------------------------------------------------------------------

  void contoursLieOnTheEdge() {
    const Path p{{ellipsePath({300.4, 260.7}, 200, 140)}};
    const auto found = test::must(contours(test::must(coverage(p, {600, 520}, test::memory(), test::here())), 4));
    QCOMPARE(found.size(), std::size_t(1));
    for (const Point& q : found[0].points) QVERIFY(nearest(p, q)->distance < 0.2);
    // Ramanujan's second approximation of the ellipse's length is good to 1e-9 here.
    const double h = std::pow((200 - 140) / 340.0, 2);
    const double length = std::numbers::pi * 340 * (1 + 3 * h / (10 + std::sqrt(4 - 3 * h)));
    QVERIFY2(std::abs(found[0].length / length - 1) < 0.01, qPrintable(QString::number(found[0].length / length)));
  }
  void holesAndTilesAndBordersAreFollowed() {
    Path p{{polygon({{-20, -20}, {512, -20}, {512, 300}, {-20, 300}}), ellipsePath({256, 150}, 40, 40)}};
    p.outlines[1].joins = Joins::takeAway;
    const auto c = test::must(coverage(p, {700, 400}, test::memory(), test::here()));
    const auto found = test::must(contours(c, 4));
    QCOMPARE(found.size(), std::size_t(2));
    QVERIFY(found[0].length > found[1].length);
    QVERIFY2(std::abs(found[0].length - 2 * (512 + 300)) < 8,
             qPrintable(QString::number(found[0].length)));  // along the picture's border too
    QVERIFY(std::abs(found[1].length - 2 * std::numbers::pi * 40) < 4);
    // Outer outlines clockwise (y down: positive area), holes the other way.
    const auto area = [](const std::vector<Point>& q) {
      double sum = 0;
      for (std::size_t i = 0; i < q.size(); ++i) sum += q[i].x * q[(i + 1) % q.size()].y - q[(i + 1) % q.size()].x * q[i].y;
      return sum / 2;
    };
    QVERIFY(area(found[0].points) > 0);
    QVERIFY(area(found[1].points) < 0);
    QVERIFY(test::must(contours(test::must(coverage({}, {50, 50}, test::memory(), test::here())), 1)).empty());
    QCOMPARE(test::must(contours(image::uniformCoverage({300, 300}, 255, test::memory()), 1)).size(), std::size_t(1));
  }

  // Fitting ----------------------------------------------------------------------------------------------------------

  void fewNodesFitWithinTheTolerance_data() {
    QTest::addColumn<int>("shape");
    QTest::addColumn<int>("fewest");
    for (int i = 0; i < 20; ++i) QTest::addRow("shape %d", i) << i << 0;
  }
  // Twenty outlines whose fewest nodes are known because they were made of so many. They come as a polygon of points a px
  // apart, moved by noise of 0.1 px.
  void fewNodesFitWithinTheTolerance() {
    QFETCH(int, shape);
    const Outline truth = fitShape(shape);
    test::Noise noise(std::uint64_t(shape) + 5);
    std::vector<Point> points;
    for (int i = 0; i < segmentCount(truth); ++i) {
      const Cubic c = segment(truth, i);
      const int steps = int(std::hypot(c.p3.x - c.p0.x, c.p3.y - c.p0.y) * 1.15);
      for (int k = 0; k < steps; ++k) {
        const Point p = pointAt(c, double(k) / steps);
        points.push_back({p.x + (noise.below(201) - 100) / 1000.0, p.y + (noise.below(201) - 100) / 1000.0});
      }
    }
    const Fit fit = fitted(points, 0.6);
    const int used = int(fit.outline.nodes.size()), fewest = int(truth.nodes.size());
    qInfo("%d nodes, fewest known %d, deviation %.2f px", used, fewest, fit.deviationPx);
    QVERIFY2(fit.deviationPx <= 0.6, qPrintable(QString::number(fit.deviationPx)));
    for (const Point& p : points) QVERIFY(nearest({{fit.outline}}, p)->distance <= 0.62);
    QVERIFY2(used <= fewest * 1.25 + 1, qPrintable(QStringLiteral("%1 of %2").arg(used).arg(fewest)));
  }
  void closerTakesMoreAndFewerTakesLess() {
    const auto c = test::must(
        coverage({{star({300, 300}, 250, 120, 5), ellipsePath({300, 300}, 180, 240)}}, {600, 600}, test::memory(), test::here()));
    const auto contour = test::must(contours(c, 10)).front();
    const auto close = fitted(contour.points, 0.2), rough = fitted(contour.points, 8);
    QVERIFY(close.outline.nodes.size() > rough.outline.nodes.size());
    QVERIFY(close.deviationPx <= 0.2 && rough.deviationPx <= 8);
    // What was fitted with many nodes can be had with few.
    Outline many = ellipsePath({300, 300}, 200, 150);
    for (int i = 0; i < 4; ++i) many = withNodeAt(withNodeAt(many, i * 3, 0.4), i * 3, 0.5);
    QCOMPARE(many.nodes.size(), std::size_t(12));
    const Fit few = refitted(many, 0.3);
    QVERIFY2(few.outline.nodes.size() <= 5, qPrintable(QString::number(few.outline.nodes.size())));
    QVERIFY(few.deviationPx <= 0.3);
  }

 private:
  // Ellipses, rounded polygons, stars, polygons: all with corners and curves of known number.
  static Outline fitShape(int i) {
    if (i < 4) return ellipsePath({300, 300}, 60 + 50 * i, 50 + 30 * i);
    if (i < 8) return star({300, 300}, 220, 90 + 10 * i, i - 1);
    if (i < 12) {
      std::vector<Point> p;
      for (int k = 0; k < i - 5; ++k) {
        const double a = k * 2 * std::numbers::pi / (i - 5) + 0.2;
        p.push_back({300 + 200 * std::cos(a), 300 + 170 * std::sin(a)});
      }
      return polygon(p);
    }
    // Petals: corners between curves that bulge by different amounts.
    const int n = i - 9;
    Outline o;
    o.closed = true;
    for (int k = 0; k < n; ++k) {
      const double a = k * 2 * std::numbers::pi / n, step = std::numbers::pi / n, far = 1.25 + 0.06 * (i % 4);
      const auto at = [&](double angle, double r) { return Point{300 + r * std::cos(angle), 300 + r * std::sin(angle)}; };
      o.nodes.push_back({at(a, 180), at(a - step * 0.6, 180 * far), at(a + step * 0.6, 180 * far), false});
    }
    return o;
  }
};
HSEAM_TEST(PathTest);
#include "path_test.moc"
