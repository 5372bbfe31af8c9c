#include "core/path/svg.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

#include "../../test_main.h"
#include "core/path/cover.h"

using namespace hseam;
using namespace hseam::path;
using base::Point;

class SvgTest : public QObject {
  Q_OBJECT
 private slots:
  void everyCommandIsRead() {
    const Path p =
        test::must(fromPathData("M10,20 l 30 0 H80 v-10 V 40 h-5 C 70 50 60 50 50 40 s-20-10 -30 0 Q 15 30 12 28 t -2 -8z"));
    QCOMPARE(p.outlines.size(), std::size_t(1));
    const Outline& o = p.outlines[0];
    QVERIFY(o.closed);
    const Point wanted[] = {{10, 20}, {40, 20}, {80, 20}, {80, 10}, {80, 40}, {75, 40}, {50, 40}, {20, 40}, {12, 28}};
    QCOMPARE(o.nodes.size(), std::size(wanted));
    for (std::size_t i = 0; i < std::size(wanted); ++i) QVERIFY(o.nodes[i].at == wanted[i]);
    QVERIFY(o.nodes[6].in == Point({60, 50}));
    QVERIFY(o.nodes[6].out == Point({40, 30}));              // s: the last handle's reflection
    QVERIFY(std::abs(o.nodes[8].in.x - (12 + 2.0)) < 1e-9);  // q: two thirds of the way to the one handle
  }
  void arcsAreRound() {
    const Path p = test::must(fromPathData("M 100 50 A 50 50 0 1 1 99.999 50 Z"));
    const Path small = test::must(fromPathData("M50 0a50 50 0 00-50 50"));
    for (int i = 0; i < segmentCount(p.outlines[0]); ++i) {
      for (double t = 0; t <= 1; t += 0.1) {
        const Point q = pointAt(segment(p.outlines[0], i), t);
        QVERIFY(std::abs(std::hypot(q.x - 100, q.y - 100) - 50) < 0.03);
      }
    }
    QVERIFY((small.outlines[0].nodes.back().at == Point{0, 50}));
    const Point middle = pointAt(segment(small.outlines[0], 0), 0.5);
    QVERIFY(std::abs(std::hypot(middle.x - 50, middle.y - 50) - 50) < 0.03);
  }
  void whatRunsTheOtherWayInsideIsAHole() {
    const Path p = test::must(fromPathData("M0 0H100V100H0Z M30 30V60H60V30Z M200 0H250V50H200Z"));
    const auto c = coverageIn(p, {0, 0, 260, 100});
    QCOMPARE(int(*c.at(10, 10)), 255);
    QCOMPARE(int(*c.at(45, 45)), 0);
    QCOMPARE(int(*c.at(225, 25)), 255);
  }
  void whatIsWrittenComesBack() {
    Path p = test::must(fromPathData("M10.5 20.25 C 30 0 60 0 80.125 20 S 90 80 40 90 Z M30 30 L 50 30 L 40 50 Z"));
    p.outlines[1].joins = Joins::takeAway;
    const Path again = test::must(fromPathData(pathData(p)));
    QCOMPARE(again.outlines.size(), p.outlines.size());
    for (std::size_t i = 0; i < p.outlines[0].nodes.size(); ++i)
      QVERIFY(again.outlines[0].nodes[i].at == p.outlines[0].nodes[i].at);
    const QTemporaryDir dir;
    const std::string file = dir.filePath(QStringLiteral("p.svg")).toStdString();
    test::must(writeSvg(file, p, {100, 100}));
    const Path read = test::must(readSvg(file));
    QVERIFY(read.outlines[1].joins == Joins::takeAway);
    QVERIFY(coverageIn(read, {0, 0, 100, 100}).samples() == coverageIn(p, {0, 0, 100, 100}).samples());
    QVERIFY(!QFile::exists(QString::fromStdString(file) + QStringLiteral(".part")));
  }
  void transformsOfGroupsCount() {
    const QTemporaryDir dir;
    const QString name = dir.filePath(QStringLiteral("t.svg"));
    QFile f(name);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(
        "<svg xmlns='http://www.w3.org/2000/svg'><g transform='translate(10 20) scale(2)'><path transform='rotate(90)' d='M1 0L2 "
        "0L2 5Z'/></g></svg>");
    f.close();
    const Path p = test::must(readSvg(name.toStdString()));
    const Point q = p.outlines[0].nodes[0].at;
    QVERIFY(std::abs(q.x - 10) < 1e-9 && std::abs(q.y - 22) < 1e-9);
  }
  void nonsenseIsToldWithItsPlace_data() {
    QTest::addColumn<QString>("data");
    for (const char* d :
         {"L 1 2", "M 1", "M 1 x", "M 1 2 C 3 4 5 6", "M 1 2 A 5 5 0 2 1 3 4", "M 1e999 0", "M 0 0 Z 5 5", "M 0 0 l 2e6 0"})
      QTest::addRow("%s", d) << QString::fromLatin1(d);
  }
  void nonsenseIsToldWithItsPlace() {
    QFETCH(QString, data);
    const auto p = fromPathData(data.toStdString());
    QVERIFY(!p.ok());
    QCOMPARE(p.error().code, base::Code::corrupt);
  }
  void badFilesAreErrors() {
    const QTemporaryDir dir;
    const QString name = dir.filePath(QStringLiteral("b.svg"));
    QCOMPARE(readSvg(name.toStdString()).error().code, base::Code::notFound);
    for (const auto& [bytes, code] :
         {std::pair("<svg><path", base::Code::corrupt), std::pair("", base::Code::corrupt),
          std::pair("<svg><path d='M0 0 L q'/></svg>", base::Code::corrupt), std::pair("<svg/>", base::Code::invalid)}) {
      QFile f(name);
      QVERIFY(f.open(QIODevice::WriteOnly | QIODevice::Truncate));
      f.write(bytes);
      f.close();
      QCOMPARE(readSvg(name.toStdString()).error().code, code);
    }
    QCOMPARE(writeSvg("/nowhere/x.svg", {}, {10, 10}).error().code, base::Code::unwritable);
  }
};
HSEAM_TEST(SvgTest);
#include "svg_test.moc"
