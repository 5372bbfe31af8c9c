#include "core/scene/visits.h"

#include "pictures.h"

using namespace hseam;

namespace {

constexpr std::int64_t kMinute = 60'000, kPause = 20 * kMinute;

scene::History historyOf(const std::vector<std::pair<std::int64_t, const char*>>& steps) {
  std::vector<scene::StepHead> all;
  for (const auto& [minute, label] : steps) all.push_back({label, "SetName", minute < 0 ? 0 : 1'000'000'000 + minute * kMinute});
  const int last = int(all.size()) - 1;
  return {std::move(all), last, scene::Scene{}, [](int) { return scene::Scene{}; }};
}

}  // namespace

class VisitsTest : public QObject {
  Q_OBJECT
 private slots:
  void aPauseDividesVisits() {
    const auto h = historyOf({{0, "new"}, {2, "a"}, {21, "b"}, {41, "c"}, {42, "d"}, {200, "e"}});
    const auto visits = scene::visitsOf(h, kPause);
    QCOMPARE(visits.size(), std::size_t(3));
    QCOMPARE(visits[0].last, 2);  // 19 minutes are none yet
    QCOMPARE(visits[1].first, 3);
    QCOMPARE(visits[1].last, 4);
    QCOMPARE(visits[2].endedMs - visits[1].endedMs, 158 * kMinute);
  }
  // Of projects from before times were kept, and of what was undone.
  void unknownTimesAndUndoneStepsMakeNone() {
    QCOMPARE(scene::visitsOf(historyOf({{-1, "new"}, {-1, "a"}, {0, "b"}, {1, "c"}}), kPause).size(), std::size_t(1));
    auto h = historyOf({{0, "new"}, {90, "a"}});
    hseam::test::must(h.goTo(0));
    QCOMPARE(scene::visitsOf(h, kPause).size(), std::size_t(1));
  }
  void whatWasDoneSinceIsCounted() {
    const auto h = historyOf({{0, "new"}, {1, "move"}, {2, "move"}, {3, "curve"}, {4, "move"}});
    QCOMPARE(scene::doneSince(h, 0), (std::vector<std::string>{"move (2 times)", "curve", "move"}));
    QCOMPARE(scene::doneSince(h, 3), (std::vector<std::string>{"move"}));
    QVERIFY(scene::doneSince(h, 4).empty());
  }
};

HSEAM_TEST(VisitsTest);
#include "visits_test.moc"
