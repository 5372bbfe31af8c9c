#include "core/scene/warp.h"

#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

constexpr base::Size kSize{800, 600};

double distanceApart(base::Point a, base::Point b) {
  return std::hypot(a.x - b.x, a.y - b.y);
}

}  // namespace

class WarpTest : public QObject {
  Q_OBJECT
 private slots:
  void cornersGoWhereTheyAreTold() {
    Warp w;
    w.corners = {{20, 30}, {700, 90}, {760, 580}, {60, 500}};
    QVERIFY(validWarp(w, kSize).ok());
    const base::Point from[] = {{0, 0}, {800, 0}, {800, 600}, {0, 600}};
    for (std::size_t i = 0; i < 4; ++i) QVERIFY(distanceApart(mapped(w, kSize, from[i]), w.corners[i]) < 1e-6);
    // Straight lines stay straight, and the diagonals still cross in the middle's image.
    const base::Point m = mapped(w, kSize, {400, 300});
    const auto side = [&](base::Point a, base::Point b) {
      return ((b.x - a.x) * (m.y - a.y) - (b.y - a.y) * (m.x - a.x)) / distanceApart(a, b);
    };
    QVERIFY(std::abs(side(w.corners[0], w.corners[2])) < 1e-6 && std::abs(side(w.corners[1], w.corners[3])) < 1e-6);
    for (const std::vector<base::Point>& bad : {std::vector<base::Point>{{0, 0}, {800, 0}, {800, 600}},
                                                {{0, 0}, {800, 600}, {800, 0}, {0, 600}},
                                                {{0, 0}, {400, 0}, {800, 0}, {0, 600}}}) {
      Warp b;
      b.corners = bad;
      QVERIFY(!validWarp(b, kSize).ok());
    }
  }
  void tacksHoldAndTurnStiffly() {
    Warp w;
    w.tacks = {{{100, 100}, {120, 90}}, {{700, 120}, {690, 160}}, {{400, 500}, {400, 500}}};
    for (const Tack& t : w.tacks) QVERIFY(distanceApart(mapped(w, kSize, t.from), t.to) < 1e-9);
    // A turn about one tack by two others is a turn of everything.
    const double c = std::cos(0.3), s = std::sin(0.3);
    const auto turned = [&](base::Point p) {
      return base::Point{400 + c * (p.x - 400) - s * (p.y - 300), 300 + s * (p.x - 400) + c * (p.y - 300)};
    };
    Warp r;
    for (const base::Point& p : {base::Point{400, 300}, {600, 300}, {400, 100}}) r.tacks.push_back({p, turned(p)});
    for (const base::Point& p : {base::Point{50, 50}, {777, 590}, {300, 410}})
      QVERIFY(distanceApart(mapped(r, kSize, p), turned(p)) < 1e-6);
    // Stiff: lengths change little although tacks ask for a stretch.
    Warp stretch;
    stretch.tacks = {{{200, 300}, {150, 300}}, {{600, 300}, {650, 300}}};
    const double length = distanceApart(mapped(stretch, kSize, {195, 280}), mapped(stretch, kSize, {195, 320}));
    QVERIFY(std::abs(length - 40) < 2);
    Warp one;
    one.tacks = {{{10, 10}, {15, 30}}};
    QVERIFY(distanceApart(mapped(one, kSize, {700, 500}), {705, 520}) < 1e-9);
  }
  void aGridBendsSmoothlyAndASplitChangesNothing() {
    Warp w = withGrid({}, kSize, 3, 2);
    QCOMPARE(w.grid.size(), std::size_t(12));
    for (const base::Point& p : {base::Point{0, 0}, {133, 77}, {800, 600}, {-20, 640}})
      QVERIFY(distanceApart(mapped(w, kSize, p), p) < 1e-9);
    w.grid[5].x += 60;
    w.grid[5].y -= 40;
    QVERIFY(distanceApart(mapped(w, kSize, {800.0 / 3, 300}), {800.0 / 3 + 60, 260}) < 1e-9);
    QVERIFY(distanceApart(mapped(w, kSize, {800, 600}), {800, 600}) < 1e-9);
    // No kink at the line: slopes from both sides agree.
    const double h = 0.01, x = 800.0 / 3;
    const base::Point a = mapped(w, kSize, {x - h, 300}), b = mapped(w, kSize, {x, 300}), c = mapped(w, kSize, {x + h, 300});
    QVERIFY(std::abs((b.x - a.x) - (c.x - b.x)) < 1e-3 * h);
    const Warp split = withSplit(w, kSize, 0.5, true);
    QCOMPARE(split.columns.size(), std::size_t(5));
    QVERIFY(validWarp(split, kSize).ok());
    double most = 0;
    for (int j = 0; j <= 12; ++j) {
      for (int i = 0; i <= 16; ++i)
        most = std::max(most, distanceApart(mapped(w, kSize, {i * 50.0, j * 50.0}), mapped(split, kSize, {i * 50.0, j * 50.0})));
    }
    QVERIFY2(most < 8, qPrintable(QString::number(most)));
    QVERIFY(withSplit(w, kSize, 1.0 / 3, true) == w);
  }
  void boundsHoldAllOfIt() {
    Warp w = withGrid({}, kSize, 3, 3);
    w.grid[6] = {900, 250};
    w.tacks = {{{10, 10}, {-30, -20}}, {{790, 590}, {790, 590}}, {{400, 20}, {420, -40}}};
    const base::Rect r = boundsOf(w, kSize);
    for (int j = 0; j <= 100; ++j) {
      for (int i = 0; i <= 100; ++i) {
        const base::Point p = mapped(w, kSize, {i * 8.0, j * 6.0});
        QVERIFY(p.x >= r.x && p.x <= r.right() && p.y >= r.y && p.y <= r.bottom());
      }
    }
  }
};

HSEAM_TEST(WarpTest);
#include "warp_test.moc"
