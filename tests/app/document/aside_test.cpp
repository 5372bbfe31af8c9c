#include "app/document/aside.h"

#include <QElapsedTimer>
#include <QSignalSpy>
#include <atomic>

#include "app/document/jobs.h"
#include "test_main.h"

using namespace hseam;
using namespace hseam::app;

class AsideTest : public QObject {
  Q_OBJECT
 private slots:
  void theNewestRequestOfANameWins() {
    Aside aside;
    std::atomic<bool> go = false;
    QList<int> got;
    // The first holds the worker; of the three that wait under one name only the last is worked out.
    aside.ask<int>(
        QStringLiteral("hold"),
        [&] {
          while (!go) {
          }
          return 0;
        },
        [&](int) { got << 0; });
    std::atomic<int> worked = 0;
    for (int i = 1; i <= 3; ++i)
      aside.ask<int>(
          QStringLiteral("same"),
          [&, i] {
            ++worked;
            return i;
          },
          [&](int v) { got << v; });
    go = true;
    QTRY_VERIFY(aside.idle());
    QCOMPARE(got, QList<int>({0, 3}));
    QCOMPARE(worked.load(), 1);
  }
  void whatIsForgottenIsNotHandedOver() {
    Aside aside;
    bool handed = false;
    std::atomic<bool> go = false;
    aside.ask<int>(
        QStringLiteral("a thing"),
        [&] {
          while (!go) {
          }
          return 0;
        },
        [&](int) { handed = true; });
    aside.forget(QStringLiteral("a"));
    go = true;
    QTest::qWait(50);
    QVERIFY(!handed && aside.idle());
  }
  void jobsReportAndTheLatestWins() {
    Jobs jobs;
    QSignalSpy failed(&jobs, &Jobs::failed);
    int done = 0;
    jobs.start<int>(
        QStringLiteral("first"),
        [](base::Executor&, const base::Progress& p) -> base::Result<int> {
          while (!p.cancelled()) {
          }
          return base::cancelledError();
        },
        [&](int) { done += 100; });
    QVERIFY(jobs.running());
    jobs.start<int>(
        QStringLiteral("second"),
        [](base::Executor&, const base::Progress& p) -> base::Result<int> {
          p.report(0.5);
          return 7;
        },
        [&](int v) { done += v; });
    QTRY_VERIFY(!jobs.running());
    QCOMPARE(done, 7);
    QCOMPARE(failed.size(), 0);
    jobs.start<int>(
        QStringLiteral("third"),
        [](base::Executor&, const base::Progress&) -> base::Result<int> {
          return base::Error{base::Code::corrupt, "x.jpg", "is broken"};
        },
        [](int) {});
    QTRY_COMPARE(failed.size(), 1);
    QVERIFY(failed[0][0].toString().contains(QStringLiteral("x.jpg")));
  }
  void abandonedJobsHandNothingOver() {
    Jobs jobs;
    bool landed = false;
    jobs.start<int>(
        QStringLiteral("work"), [](base::Executor&, const base::Progress&) -> base::Result<int> { return 1; },
        [&](int) { landed = true; });
    QTest::qSleep(30);  // finished, but not handed over yet
    jobs.abandon();
    QTest::qWait(50);
    QVERIFY(!landed && !jobs.running());
  }
};
HSEAM_TEST(AsideTest);
#include "aside_test.moc"
