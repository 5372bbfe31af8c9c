#include "core/scene/point_match.h"

#include "pictures.h"

using namespace hseam;
using namespace hseam::scene;

namespace {

Scene sceneOf(std::vector<Placement> places) {
  Scene s;
  s.canvas = {800, 600};
  for (std::size_t i = 0; i < places.size(); ++i) {
    Layer l;
    l.id = {i + 1};
    PictureContent p;
    p.source = test::picture(120, 80, 3, [](int, int, int) { return 128; });
    p.placement = places[i];
    l.content = p;
    s.layers.push_back(std::make_shared<const Layer>(std::move(l)));
  }
  return s;
}
// Where a px of the picture lies in the scene, through its bend.
base::Point seen(const Scene& s, LayerId id, base::Point p) {
  const auto& content = *findLayer(s, id)->picture();
  const base::Size size = content.source.size();
  return content.placement.toScene(size).map(content.warp ? mapped(*content.warp, size, p) : p);
}
double apart(base::Point a, base::Point b) {
  return std::hypot(a.x - b.x, a.y - b.y);
}

}  // namespace

class PointMatchTest : public QObject {
  Q_OBJECT
 private slots:
  void marksLieWhereTheirArrowsEnd_data() {
    QTest::addColumn<int>("count");
    QTest::addColumn<double>("skew");
    QTest::addColumn<bool>("flip");
    for (const int n : {1, 2, 4}) {
      QTest::addRow("%d plain", n) << n << 0.0 << false;
      QTest::addRow("%d leaning and flipped", n) << n << 17.0 << true;
    }
  }
  void marksLieWhereTheirArrowsEnd() {
    QFETCH(int, count);
    QFETCH(double, skew);
    QFETCH(bool, flip);
    Placement at{210, 140, 1.7, 23, flip, false};
    at.skewDeg = skew;
    const Scene s = sceneOf({at});
    const std::array<base::Point, 4> places{{{12, 9}, {101, 14}, {96, 70}, {20, 66}}};
    std::array<base::Point, 4> ends{{{100, 90}, {420, 160}, {400, 420}, {130, 330}}};
    for (base::Point& p : ends) p.x = flip ? 520 - p.x : p.x;  // a flipped picture is matched as it is seen
    std::vector<Mark> marks;
    for (int i = 0; i < count; ++i) marks.push_back({seen(s, {1}, places[std::size_t(i)]), ends[std::size_t(i)]});
    const Scene next = test::must(scene::apply(s, test::must(matchedTo(s, {1}, marks))));
    for (int i = 0; i < count; ++i) QVERIFY(apart(seen(next, {1}, places[std::size_t(i)]), ends[std::size_t(i)]) < 1e-6);
    // Twice: what is bent already is bent on.
    if (count != 4) return;
    for (Mark& m : marks) m = {m.to, {m.to.x * 0.9 + 20, m.to.y + 0.1 * m.to.x}};
    const Scene again = test::must(scene::apply(next, test::must(matchedTo(next, {1}, marks))));
    for (std::size_t i = 0; i < 4; ++i) QVERIFY(apart(seen(again, {1}, places[i]), marks[i].to) < 1e-6);
  }
  void whatCannotBeMatchedIsRefused() {
    const Scene s = sceneOf({{}});
    QVERIFY(!matchedTo(s, {1}, {}).ok());
    QVERIFY(!matchedTo(s, {1}, {{{1, 1}, {2, 2}}, {{1, 1}, {5, 5}}}).ok());
    QVERIFY(!matchedTo(s, {7}, {{{1, 1}, {2, 2}}}).ok());
    QVERIFY(!matchedTo(s, {1}, {{{0, 0}, {0, 0}}, {{1, 0}, {1, 0}}, {{2, 0}, {2, 0}}}).ok());
    QVERIFY(!matchedTo(s, {1}, {{{0, 0}, {0, 0}}, {{1, 0}, {1, 0}}, {{2, 0}, {2, 0}}, {{3, 0}, {3, 0}}}).ok());
  }
  void sidesAndDistances() {
    const Scene s = sceneOf({{10, 20, 1, 0}, {300, 200, 0.5, 0}, {150, 111, 2, 90}, {500, 30, 1, 0}});
    const Scene left = test::must(scene::apply(s, test::must(aligned(s, {{2}, {1}, {3}}, Side::left))));
    // The turned one is 160 × 240 px about its middle (270, 191).
    QVERIFY(apart(seen(left, {1}, {0, 0}), {300, 20}) < 1e-9);
    QVERIFY(apart(seen(left, {3}, {60, 40}), {300 + 80, 191}) < 1e-9);
    const Scene foot = test::must(scene::apply(s, test::must(aligned(s, {{1}, {2}}, Side::bottom))));
    QVERIFY(apart(seen(foot, {2}, {0, 80}), {300, 100}) < 1e-9);
    const Scene even = test::must(scene::apply(s, test::must(distributed(s, {{4}, {1}, {2}, {3}}, true))));
    double before = 0;
    std::vector<double> middles;
    for (const std::uint64_t id : {1, 3, 2, 4}) middles.push_back(seen(even, {id}, {60, 40}).x);
    before = middles[1] - middles[0];
    for (std::size_t i = 1; i < 4; ++i) QVERIFY(std::abs(middles[i] - middles[i - 1] - before) < 1e-9);
    QVERIFY(std::abs(middles[0] - 70) < 1e-9 && std::abs(middles[3] - 560) < 1e-9);
    QVERIFY(!aligned(s, {{1}}, Side::top).ok() && !distributed(s, {{1}, {2}}, false).ok());
  }
  void aLeanMovesWhatIsUpAndLeavesRowsLevel() {
    Placement p{0, 0, 2, 0};
    p.skewDeg = 30;
    const base::Affine m = p.toScene({100, 60});
    const base::Point top = m.map({50, 0}), foot = m.map({50, 60}), right = m.map({100, 60});
    QVERIFY(std::abs(top.x - foot.x - 120 * std::tan(M_PI / 6)) < 1e-9);
    QVERIFY(std::abs(foot.y - right.y) < 1e-9 && std::abs(right.x - foot.x - 100) < 1e-9);
    QVERIFY(apart(m.map({50, 30}), {100, 60}) < 1e-9);
  }
};

HSEAM_TEST(PointMatchTest);
#include "point_match_test.moc"
