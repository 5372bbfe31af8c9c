#include "core/path/stroke_outline.h"

#include "core/path/cover.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::path;

namespace {

Path line(base::Point a, base::Point b) {
  return {{{{corner(a), corner(b)}, false, Joins::add}}};
}
// A circle of four cubics.
Path circle(double x, double y, double r) {
  const double k = 0.5522847498 * r;
  Outline o;
  o.closed = true;
  o.nodes = {{{x + r, y}, {x + r, y - k}, {x + r, y + k}, true},
             {{x, y + r}, {x + k, y + r}, {x - k, y + r}, true},
             {{x - r, y}, {x - r, y + k}, {x - r, y - k}, true},
             {{x, y - r}, {x - k, y - r}, {x + k, y - r}, true}};
  return {{o}};
}
double area(const Path& p) {
  const auto c = coverageIn(p, {0, 0, 300, 300});
  double sum = 0;
  for (const std::uint8_t v : c.samples()) sum += v / 255.0;
  return sum;
}

}  // namespace

class StrokeOutlineTest : public QObject {
  Q_OBJECT
 private slots:
  void areasAreWhatTheyMustBe() {
    StrokeStyle s;
    s.widthPx = 10;
    s.roundEnds = false;
    QVERIFY(std::abs(area(strokeOutline(line({50, 50}, {200, 120}), s)) - 10 * std::hypot(150, 70)) < 1.5);
    s.roundEnds = true;
    QVERIFY(std::abs(area(strokeOutline(line({50, 50}, {200, 120}), s)) - (10 * std::hypot(150, 70) + M_PI * 25)) < 2);
    // A ring: between the circles 5 px to each side.
    QVERIFY(std::abs(area(strokeOutline(circle(150, 150, 80), s)) - M_PI * (85.0 * 85 - 75.0 * 75)) < 8);
    // A right angle: one quarter of a disc more than two bars, less where they overlap.
    Path bend{{{{corner({50, 50}), corner({150, 50}), corner({150, 150})}, false, Joins::add}}};
    s.roundEnds = false;
    QVERIFY2(std::abs(area(strokeOutline(bend, s)) - (2000 - 25 + M_PI * 25 / 4)) < 3,
             qPrintable(QString::number(area(strokeOutline(bend, s)))));
  }
  void stitchesAreCountedAndSpaced() {
    StrokeStyle s{4, 12, 8, false};
    const Path stitches = strokeOutline(line({20, 150}, {280, 150}), s);
    QCOMPARE(stitches.outlines.size(), std::size_t(13));
    QVERIFY(std::abs(area(stitches) - 13 * 48) < 2);
    const auto c = coverageIn(stitches, {0, 148, 300, 4});
    QCOMPARE(int(*c.at(25, 1)), 255);
    QCOMPARE(int(*c.at(36, 1)), 0);
    QCOMPARE(int(*c.at(45, 1)), 255);
    // Round and round a whole number of them.
    const Path ring = strokeOutline(circle(150, 150, 80), s);
    QCOMPARE(ring.outlines.size(), std::size_t(std::lround(2 * M_PI * 80 / 20)));
    QVERIFY(!fits({4, 12, 0, false}) && !fits({0, 0, 0, true}) && fits({4, 0, 0, true}));
    QVERIFY(strokeOutline({}, s).outlines.empty());
  }
};

HSEAM_TEST(StrokeOutlineTest);
#include "stroke_outline_test.moc"
