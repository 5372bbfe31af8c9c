// How much of the computer the program takes, set in the window.

#include <QLabel>
#include <QSettings>
#include <QSpinBox>

#include "app/document/machine_settings.h"
#include "app/window.h"

using namespace hseam;

class ComputerTest : public QObject {
  Q_OBJECT

 private slots:
  void init() { QSettings().clear(); }
  void coresAndMemoryAreKeptForTheNextStart() {
    {
      test::Window w;
      w.goTo(test::kGather);
      w.openPage("computer");
      auto* cores = w.find<QSpinBox>(QStringLiteral("Cores"));
      cores->setFocus();
      cores->selectAll();
      QTest::keyClicks(cores, QStringLiteral("2"));
      QTest::keyClick(cores, Qt::Key_Return);
      w.find<QSpinBox>(QStringLiteral("Pixels"))->setValue(512);
      w.settle();
      QVERIFY(w.find<QLabel>(QStringLiteral("What is taken now"))->text().contains(QStringLiteral("512 MB")));
    }
    QCOMPARE(app::machineSettings().threads, 2);
    QCOMPARE(app::machineSettings().pixelBytes, std::size_t(512) << 20);
    test::Window next;
    QCOMPARE(next.desk().session.memory()->budgetBytes(), std::size_t(512) << 20);
  }
  void nothingSetIsChosenByTheMachine() {
    const base::MachineShare chosen = base::chosenFor({});
    QVERIFY(chosen.threads >= 1 && chosen.pixelBytes >= std::size_t(1) << 30);
    // Never more than there is, never so little that nothing works.
    const base::MachineShare all = base::chosenFor({9999, std::size_t(1) << 60, std::size_t(1) << 60});
    QVERIFY(all.threads == 256 && all.pixelBytes <= base::physicalMemory() && all.thumbnailBytes == std::size_t(512) << 20);
    QCOMPARE(base::chosenFor({1, 1, 1}).pixelBytes, std::size_t(256) << 20);
  }
};

HSEAM_TEST(ComputerTest);
#include "computer_test.moc"
