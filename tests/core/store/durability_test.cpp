// kill -9 at random moments while another process edits, copies, replaces copies and goes on under another name: every step it
// was told is kept must be there, and whoever comes meanwhile is kept out.

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>
#include <csignal>

#include "../render/scenes.h"
#include "core/store/sqlite.h"
#include "durability/edits.h"

using namespace hseam;

class DurabilityTest : public QObject {
  Q_OBJECT
 private slots:
  // 30 runs; HSEAM_KILLS asks for more.
  void killsLoseNoAcknowledgedEdit() {
    bool asked = false;
    const int more = qEnvironmentVariableIntValue("HSEAM_KILLS", &asked), runs = asked ? more : 30;
    QTemporaryDir dir;
    const QString path = dir.filePath(QStringLiteral("killed.hseam"));
    scene::Scene begin;
    begin.canvas = {1000, 800};
    begin.layers = {test::ref(test::pictureLayer(1, test::colours(1000, 800, 1)))};
    test::must(store::ProjectFile::create(path.toStdString(), begin, "begin", test::memory(), test::here()));
    test::Noise noise(20261124);
    int acknowledged = 0, killed = 0, keptOut = 0, moves = 0;
    QString now = path;  // where the last acknowledged step is
    for (int run = 0; run < runs; ++run) {
      QProcess editor, second;
      editor.start(QStringLiteral(HSEAM_BIN "/durability_editor"), {now});
      QVERIFY(editor.waitForStarted());
      QVERIFY2(editor.waitForReadyRead(20'000), editor.readAllStandardError().constData());  // the first step of this run
      if (run % 3 == 0) {
        // Another process comes to the same project: it is told so, or finds it left, and can only look.
        second.start(QStringLiteral(HSEAM_BIN "/hseam"), {QStringLiteral("info"), now});
        QVERIFY(second.waitForFinished());
        QCOMPARE(second.exitCode(), 0);
        const auto writer = store::ProjectFile::open(now.toStdString(), test::memory(), test::here());
        keptOut += !writer.ok() && writer.error().code == base::Code::conflict;
      }
      QTest::qSleep(1 + noise.below(250));
      QVERIFY(::kill(pid_t(editor.processId()), SIGKILL) == 0);
      editor.waitForFinished();
      ++killed;
      const QList<QByteArray> lines = editor.readAllStandardOutput().split('\n');
      for (const QByteArray& line : lines.first(lines.size() - 1)) {
        const qsizetype space = line.indexOf(' ');
        const QString place = QString::fromUtf8(line.mid(space + 1));
        moves += place != now;
        acknowledged = std::max(acknowledged, line.left(space).toInt());
        now = place;
      }
      auto opened = test::must(store::ProjectFile::open(now.toStdString(), test::memory(), test::here()));
      QVERIFY2(opened.history.current() >= acknowledged,
               qPrintable(QStringLiteral("run %1: %2 of %3 steps").arg(run).arg(opened.history.current()).arg(acknowledged)));
      QVERIFY(opened.history.current() <= acknowledged + 1);  // at most one more than it had time to say
      acknowledged = opened.history.current();
      QVERIFY(opened.history.count() == acknowledged + 1 && opened.missingSteps.empty());
      // What lies beside it is whole, or not there.
      const QString copy = path + QStringLiteral(".copy.hseam");
      if (QFile::exists(copy)) {
        const auto beside = test::must(store::ProjectFile::open(copy.toStdString(), test::memory(), test::here()));
        static_cast<void>(test::rendered(beside.history.scene()));
      }
    }
    QVERIFY(moves > 0 && keptOut > 0);
    qInfo("went on under another name %d times; kept %d others out", moves, keptOut);
    QCOMPARE(killed, runs);
    qInfo("%d kills, %d acknowledged steps, all there", killed, acknowledged);

    // What is there is what was done: all of it done again in memory gives the same pixels.
    auto opened =
        test::must(store::ProjectFile::open(now.toStdString(), image::TileMemory::create(std::size_t(1) << 28), test::here()));
    scene::Scene expected = begin;
    for (int step = 1; step <= acknowledged; ++step) {
      expected = test::must(scene::apply(expected, durability::editFor(expected, step, test::memory(), test::here())));
      const scene::Scene there = test::must(opened.history.sceneOf(step));
      QCOMPARE(there.layers.size(), expected.layers.size());
      QVERIFY(there.layers[0]->name == expected.layers[0]->name && there.layers[0]->opacity == expected.layers[0]->opacity);
    }
    QVERIFY(test::rendered(opened.history.scene()).samples() == test::rendered(expected).samples());
    test::must(opened.file->close());
    auto database = test::must(store::Database::open(now.toStdString(), store::Database::Mode::readOnly));
    auto check = test::must(database.prepare("PRAGMA integrity_check"));
    QVERIFY(test::must(check.step()));
    QCOMPARE(QString::fromStdString(check.text(0)), QStringLiteral("ok"));
  }
};
HSEAM_TEST(DurabilityTest);
#include "durability_test.moc"
