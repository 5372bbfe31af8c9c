// Words as outlines, against what the typeface says of itself and against geometry written down here.

#include "core/text/lettering.h"

#include <algorithm>
#include <cmath>

#include "core/path/cover.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::text;

namespace {

Lettering plain(const std::string& words) {
  Lettering t;
  t.words = words;
  t.style = "Regular";
  t.sizePx = 100;
  t.align = Lettering::Align::left;
  t.at = {50, 200};
  return t;
}

struct Box {
  double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
  double width() const { return right - left; }
};
Box boxOf(const path::Path& p) {
  Box b;
  for (const path::Outline& o : p.outlines) {
    for (const base::Point& q : path::flattened(o, 0.01)) {
      b.left = std::min(b.left, q.x), b.right = std::max(b.right, q.x);
      b.top = std::min(b.top, q.y), b.bottom = std::max(b.bottom, q.y);
    }
  }
  return b;
}
Box boxOf(const Lettering& t) {
  return boxOf(test::must(lettered(t)).outlines);
}

}  // namespace

class LetteringTest : public QObject {
  Q_OBJECT
 private slots:
  void theProgramsOwnTypefaceIsThere() {
    const auto& all = typefaces();
    QVERIFY(std::any_of(all.begin(), all.end(), [](const Typeface& f) { return f.family == "Inter" && f.style == "Regular"; }));
    const Lettered set = test::must(lettered(plain("abc")));
    QVERIFY(!set.otherTypeface && set.missing.empty());
  }
  // Inter's capitals are 2048 of 2816 units high, its H and E stand on the baseline.
  void capitalsAreAsHighAsTheTypefaceSays() {
    for (const double size : {20.0, 100.0, 731.0}) {
      Lettering t = plain("HE");
      t.sizePx = size;
      const Box b = boxOf(t);
      QVERIFY2(std::abs((b.bottom - b.top) - size * 2048 / 2816) < size * 1e-3, qPrintable(QString::number(b.bottom - b.top)));
      QVERIFY(std::abs(b.bottom - 200) < 1e-6);
    }
  }
  void aLetterIsHollowWhereItShouldBe() {
    // An O covers its ring, not its middle; an 8 has two hollows.
    const path::Path o = test::must(lettered(plain("O"))).outlines;
    const Box b = boxOf(o);
    QCOMPARE(o.outlines.size(), std::size_t(2));
    const auto cover = [](const path::Path& p, double x, double y) {
      return *path::coverageIn(p, {int(x), int(y), 1, 1}).at(0, 0);
    };
    const double my = (b.top + b.bottom) / 2, mx = (b.left + b.right) / 2;
    QCOMPARE(cover(o, mx, my), std::uint8_t(0));
    QCOMPARE(cover(o, b.left + 5, my), std::uint8_t(255));
    QCOMPARE(cover(o, b.right - 5, my), std::uint8_t(255));
    const path::Path eight = test::must(lettered(plain("8"))).outlines;
    QCOMPARE(std::count_if(eight.outlines.begin(), eight.outlines.end(),
                           [](const path::Outline& q) { return q.joins == path::Joins::takeAway; }),
             2);
  }
  void trackingAddsTheSameRoomAfterEveryLetterButTheLast() {
    const double tight = boxOf(plain("HHHH")).width();
    Lettering t = plain("HHHH");
    t.tracking = 250;
    QVERIFY(std::abs(boxOf(t).width() - tight - 3 * 25) < 1e-6);
  }
  void linesStandALeadingApartAndAlignAboutTheirPlace() {
    Lettering t = plain("HHH\nH");
    t.leading = 1.5;
    t.align = Lettering::Align::right;
    const path::Path p = test::must(lettered(t)).outlines;
    QCOMPARE(p.outlines.size(), std::size_t(4));
    const Box first = boxOf({{p.outlines[0], p.outlines[1], p.outlines[2]}}), second = boxOf({{p.outlines[3]}});
    QVERIFY(std::abs(second.bottom - first.bottom - 150) < 1e-6);
    QVERIFY(std::abs(second.right - first.right) < 1e-6 && first.right < 50 && first.right > 30);
    t.align = Lettering::Align::centre;
    const path::Path c = test::must(lettered(t)).outlines;
    const Box one = boxOf({{c.outlines[0], c.outlines[1], c.outlines[2]}}), other = boxOf({{c.outlines[3]}});
    QVERIFY(std::abs((one.left + one.right) - (other.left + other.right)) < 1e-6);
    QVERIFY(std::abs((one.left + one.right) / 2 - 50) < 1e-6);
  }
  void kerningOfTheTypefaceIsUsed() {
    // How much nearer V stands after A than their own widths say.
    const auto leftOfLast = [](const std::string& words) {
      return boxOf({{test::must(lettered(plain(words))).outlines.outlines.back()}}).left;
    };
    const double advance = leftOfLast("AH") - leftOfLast("H");
    QVERIFY2(leftOfLast("AV") - advance - leftOfLast("V") < -3,
             qPrintable(QString::number(leftOfLast("AV") - advance - leftOfLast("V"))));
  }
  void alongACircleLettersStandOnIt() {
    // A circle of radius 300 by four cubics (Riškus 2006: 0.5522847 of the radius).
    constexpr double r = 300, k = 0.5522847498 * r;
    path::Outline circle;
    circle.closed = true;
    const auto node = [&](double x, double y, double tx, double ty) {
      circle.nodes.push_back({{500 + x, 500 + y}, {500 + x - tx, 500 + y - ty}, {500 + x + tx, 500 + y + ty}, true});
    };
    node(-r, 0, 0, -k);
    node(0, -r, k, 0);
    node(r, 0, 0, k);
    node(0, r, -k, 0);
    Lettering t = plain("HHHHHHHH");
    t.along = std::make_shared<const path::Path>(path::Path{{circle}});
    const path::Path p = test::must(lettered(t)).outlines;
    for (const path::Outline& o : p.outlines) {
      double least = 1e9, most = 0;
      for (const path::Node& n : o.nodes) {
        const double d = std::hypot(n.at.x - 500, n.at.y - 500);
        least = std::min(least, d), most = std::max(most, d);
      }
      // The feet touch the chord's ends or stand a little off the circle, the heads a capital's height out.
      QVERIFY2(std::abs(least - r) < 0.6, qPrintable(QString::number(least)));
      QVERIFY2(std::abs(most - std::hypot(r + 72.7, 30)) < 4, qPrintable(QString::number(most)));
    }
  }
  void whatCannotBeSetIsSaid() {
    QCOMPARE(test::must(lettered(plain("a\xE2\x98\x83z"))).missing.empty(), false);
    Lettering other = plain("a");
    other.family = "No such typeface";
    QVERIFY(test::must(lettered(other)).otherTypeface);
    Lettering wrong = plain("a");
    wrong.sizePx = 1e9;
    QVERIFY(!lettered(wrong).ok());
    wrong = plain(std::string(3000, 'a'));
    QVERIFY(!lettered(wrong).ok());
    QVERIFY(test::must(lettered(plain(""))).outlines.empty());
    QVERIFY(lettered(plain("\xff\xfe broken \xc3")).ok());
  }
};

HSEAM_TEST(LetteringTest);
#include "lettering_test.moc"
