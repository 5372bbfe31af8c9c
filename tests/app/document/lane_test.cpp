#include "app/document/lane.h"

#include <QProgressBar>
#include <QSignalSpy>
#include <atomic>

#include "app/window.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::app;

namespace {

struct Lanes {
  QThreadPool pool;
  base::InlineExecutor executor;
  Lane lane{pool, executor};
};

// Until it is told to stop.
base::Result<int> endless(base::Executor&, const base::Progress& p) {
  while (!p.cancelled()) QThread::msleep(1);
  return base::cancelledError();
}

}  // namespace

class LaneTest : public QObject {
  Q_OBJECT
 private slots:
  void theNewestRequestOfASlotCounts() {
    Lanes l;
    std::atomic<bool> go = false;
    QList<int> got;
    // The first holds the lane; of the three that wait for one slot only the last is worked out.
    l.lane.ask<int>(
        QStringLiteral("hold"),
        [&] {
          while (!go) QThread::msleep(1);
          return 0;
        },
        [&](int) { got << 0; });
    std::atomic<int> worked = 0;
    for (int i = 1; i <= 3; ++i)
      l.lane.ask<int>(
          QStringLiteral("same"),
          [&, i] {
            ++worked;
            return i;
          },
          [&](int v) { got << v; });
    go = true;
    QTRY_VERIFY(!l.lane.running());
    QCOMPARE(got, QList<int>({0, 3}));
    QCOMPARE(worked.load(), 1);
  }
  void othersWaitTheirTurn() {
    Lanes l;
    QSignalSpy replaced(&l.lane, &Lane::replaced);
    QStringList done;
    std::atomic<bool> go = false;
    for (const char* name : {"first", "second", "third"})
      l.lane.start<int>(
          QString::fromLatin1(name),
          [&](base::Executor&, const base::Progress& p) -> base::Result<int> {
            while (!go) QThread::msleep(1);
            p.report(0.5);
            return 7;
          },
          [&, name](int) { done << QString::fromLatin1(name); });
    const auto entries = l.lane.entries();
    QCOMPARE(entries.size(), std::size_t(3));
    QVERIFY(entries[0].runs && !entries[1].runs && !entries[2].runs);
    l.lane.stop(entries[1].id);
    go = true;
    QTRY_VERIFY(!l.lane.running());
    QCOMPARE(done, QStringList({QStringLiteral("first"), QStringLiteral("third")}));
    QCOMPARE(replaced.size(), 0);
  }
  void theSameAgainReplacesAndSaysSo() {
    Lanes l;
    QSignalSpy replaced(&l.lane, &Lane::replaced), failed(&l.lane, &Lane::failed);
    l.lane.start<int>(QStringLiteral("guess"), endless, [](int) { QFAIL("it was stopped"); });
    int done = 0;
    l.lane.start<int>(
        QStringLiteral("guess"), [](base::Executor&, const base::Progress&) -> base::Result<int> { return 7; },
        [&](int v) { done += v; });
    QTRY_VERIFY(!l.lane.running());
    QCOMPARE(done, 7);
    QCOMPARE(replaced.size(), 1);
    QCOMPARE(failed.size(), 0);
  }
  void errorsAreTold() {
    Lanes l;
    QSignalSpy failed(&l.lane, &Lane::failed);
    l.lane.start<int>(
        QStringLiteral("read"),
        [](base::Executor&, const base::Progress&) -> base::Result<int> {
          return base::Error{base::Code::corrupt, "x.jpg", "is broken"};
        },
        [](int) {});
    QTRY_COMPARE(failed.size(), 1);
    QVERIFY(failed[0][0].toString().contains(QStringLiteral("x.jpg")));
  }
  void whatIsStoppedHandsNothingOver() {
    Lanes l;
    bool landed = false;
    l.lane.start<int>(
        QStringLiteral("a work"), [](base::Executor&, const base::Progress&) -> base::Result<int> { return 1; },
        [&](int) { landed = true; });
    QTest::qSleep(30);  // finished, but not handed over yet
    l.lane.stopSlots(QStringLiteral("a"));
    QVERIFY(!l.lane.running());
    QTest::qWait(50);
    QVERIFY(!landed);
  }
  void waitingWorkIsListedAndCanBeTakenOff() {
    test::Window w;
    Lane& jobs = w.desk().jobs;
    bool second = false;
    jobs.start<int>(QStringLiteral("Long work"), endless, [](int) {});
    jobs.start<int>(
        QStringLiteral("Other work"), [](base::Executor&, const base::Progress&) -> base::Result<int> { return 1; },
        [&](int) { second = true; });
    jobs.start<int>(
        QStringLiteral("Third work"), [](base::Executor&, const base::Progress&) -> base::Result<int> { return 1; }, [](int) {});
    QApplication::processEvents();
    QVERIFY(w.labelThatBegins(QStringLiteral("Long work")));
    QVERIFY(w.labelThatBegins(QStringLiteral("then: Other work")));
    QTest::mouseClick(w.find<QPushButton>(QStringLiteral("Stop Other work")), Qt::LeftButton);
    QApplication::processEvents();
    QTRY_VERIFY(!w.labelThatBegins(QStringLiteral("then: Other work")));
    QTRY_VERIFY(w.labelThatBegins(QStringLiteral("then: Third work")));
    QTest::mouseClick(w.find<QPushButton>(QStringLiteral("Stop")), Qt::LeftButton);
    w.settle();
    QVERIFY(!second && !w.find<QPushButton>(QStringLiteral("Choose pictures…"))->isHidden());
  }
};
HSEAM_TEST(LaneTest);
#include "lane_test.moc"
