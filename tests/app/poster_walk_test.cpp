// The demo poster's findings, walked by keys alone: what can be mended is mended, the rest accepted, and the report opens.

#include <QFile>
#include <QLineEdit>
#include <QProcess>
#include <QPushButton>

#include "app/stations/look_over/look_over.h"
#include "app/window.h"

using namespace hseam;

class PosterWalkTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

 private slots:
  void theDemoIsMendedByKeys() {
    const QString project = dir_.filePath(QStringLiteral("poster.hseam"));
    QProcess make;
    make.start(QStringLiteral(HSEAM_BIN "/hseam"),
               {QStringLiteral("new"), project, QStringLiteral("--scene"), QStringLiteral(HSEAM_DEMO "/poster.json")});
    QVERIFY(make.waitForFinished(120'000) && make.exitCode() == 0);
    test::Window w;
    w.open({project});
    QVERIFY(scene::unclearPermissions(w.scene(), "2100-01-01").empty());  // nothing stands against handing the demo over
    QTest::keyClick(&w.get(), Qt::Key_5, Qt::AltModifier);
    auto& over = *qobject_cast<app::LookOver*>(&w->station(test::kLookOver));
    const auto read = [&] {
      w.settle();
      QTRY_VERIFY_WITH_TIMEOUT(over.watch().isOfNow(), 120'000);
      w.settle();
    };
    read();
    const double before = over.watch().report()->tightness;
    const std::size_t found = over.watch().report()->findings.size();
    QVERIFY(found >= 2);
    int mended = 0, accepted = 0;
    std::set<std::string> tried;
    for (int round = 0; round < 10 && !over.watch().report()->findings.empty(); ++round) {
      QTest::keyClick(&w.get(), Qt::Key_J, Qt::ControlModifier);
      w.settle();
      const int chosen = over.findings().chosen();
      QVERIFY(chosen >= 0);
      const findings::Verdict v = over.watch().report()->findings[std::size_t(chosen)];
      // The first of each kind is accepted, and so is what a remedy did not mend.
      if (accepted == 0 || v.remedies.empty() || !tried.insert(findings::keyOf(v.kind) + v.layerName).second) {
        auto* why = w.find<QLineEdit>(QStringLiteral("Reason for accepting"));
        why->setFocus();
        QTest::keyClicks(why, QStringLiteral("as it is meant"));
        QTest::keyClick(why, Qt::Key_Return);
        ++accepted;
      } else {
        auto* remedy = w.find<QPushButton>(QString::fromStdString(v.remedies.front().label.text()));
        remedy->setFocus();
        QTest::keyClick(remedy, Qt::Key_Space);
        ++mended;
      }
      read();
    }
    QVERIFY2(mended >= 1 && accepted >= 1, qPrintable(QStringLiteral("%1 %2").arg(mended).arg(accepted)));
    const double after = over.watch().report()->tightness;
    QVERIFY2(after > before && over.watch().report()->findings.size() < found,
             qPrintable(QStringLiteral("%1 after %2").arg(after).arg(before)));
    const QString page = dir_.filePath(QStringLiteral("report.html"));
    over.findings().writeReport(page);
    QFile file(page);
    QVERIFY(file.open(QIODevice::ReadOnly) && file.readAll().contains("as it is meant"));
  }
};

HSEAM_TEST(PosterWalkTest);
#include "poster_walk_test.moc"
