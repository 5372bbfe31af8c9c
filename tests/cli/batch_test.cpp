// hseam batch with the real commands.

#include <QDir>
#include <QJsonArray>
#include <QTemporaryDir>
#include <QTest>

#include "cli/ran.h"
#include "cli/shots.h"
#include "core/image/picture_file.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using test::hseamCommand;
using test::Ran;

class BatchCommandTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  QString at(const QString& name) const { return dir_.filePath(name); }

 private slots:
  void initTestCase() {
    test::writeShots(dir_, 5);
    QFile broken(at(QStringLiteral("broken.png")));
    QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("no picture") > 0);
    QFile list(at(QStringLiteral("list.json")));
    QVERIFY(list.open(QIODevice::WriteOnly));
    list.write(R"({"out": "done", "files": ["shot 0.png", "shot 1.png", "broken.png", "shot 2.png", "shot 3.png", "shot 4.png"],
      "steps": [["cut", "{file}", "--selection", "near.png", "--band", "{work}/b.png"],
                ["matte", "{file}", "--trimap", "{work}/b.png", "--cutout", "{out}/{stem}.png"]]})");
  }
  void manyAreCutAndOneFailureIsTold() {
    const Ran ran = hseamCommand({"batch", at(QStringLiteral("list.json")), "--json", "--workers", "2", "--threads", "1"});
    QCOMPARE(ran.code, 1);
    QCOMPARE(ran.json()["done"].toInt(), 5);
    const QJsonArray failed = ran.json()["failed"].toArray();
    QCOMPARE(failed.size(), 1);
    QCOMPARE(failed[0].toObject()["job"].toString(), QStringLiteral("broken.png"));
    QVERIFY(failed[0].toObject()["said"].toString().contains(QStringLiteral("broken.png")));
    for (int n = 0; n < 5; ++n) {
      const auto cut = test::must(
          image::readPicture(at(QStringLiteral("done/shot %1.png").arg(n)).toStdString(), test::memory(), test::here(), {}));
      const auto px = test::must(image::read8(cut.pixels, 0, {110, 90, 1, 1}));
      QVERIFY(int(px.at(0, 0)[3]) == 255 && int(px.at(0, 0)[n % 3]) > 150);
      QCOMPARE(int(test::must(image::read8(cut.pixels, 0, {10, 10, 1, 1})).at(0, 0)[3]), 0);
    }
    QVERIFY(QDir(at(QStringLiteral("done"))).entryList({QStringLiteral(".work*")}, QDir::AllEntries | QDir::Hidden).size() <= 1);
    const Ran again = hseamCommand({"batch", at(QStringLiteral("list.json")), "--json"});
    QVERIFY(again.json()["done"].toInt() == 0 && again.json()["done_before"].toInt() == 5);
  }
  // Each line does its job by itself, in any order and on any machine that sees the files.
  void printedJobsAreCommandLines() {
    QDir(at(QStringLiteral("done"))).removeRecursively();
    const Ran ran = hseamCommand({"batch", at(QStringLiteral("list.json")), "--print-jobs"});
    QCOMPARE(ran.code, 0);
    const QStringList lines = QString::fromUtf8(ran.out).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    QCOMPARE(lines.size(), 6);
    QVERIFY(!QFileInfo::exists(at(QStringLiteral("done"))));
    QProcess shell;
    shell.setWorkingDirectory(QStringLiteral("/"));
    shell.start(QStringLiteral("/bin/sh"), {QStringLiteral("-c"), lines[1]});
    QVERIFY(shell.waitForFinished(120'000) && shell.exitCode() == 0);
    QVERIFY(QFileInfo::exists(at(QStringLiteral("done/shot 1.png"))));
    QVERIFY(!QFileInfo::exists(at(QStringLiteral("done/shot 0.png"))));
  }
  void aListThatDoesNotReadIsTold() {
    const Ran ran = hseamCommand({"batch", at(QStringLiteral("near.png"))});
    QCOMPARE(ran.code, 1);
    QVERIFY2(ran.err.contains("near.png") && ran.err.contains("no JSON"), ran.err.constData());
    QCOMPARE(hseamCommand({"batch"}).code, 2);
  }
};
HSEAM_TEST(BatchCommandTest);
#include "batch_test.moc"
