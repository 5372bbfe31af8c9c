// What `hseam batch --print-jobs` prints, worked off by the engines that docs/batch.md names.

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>

#include "cli/one_node_cluster.h"
#include "cli/ran.h"
#include "cli/shots.h"
#include "core/image/picture_file.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;

class OtherMachinesTest : public QObject {
  Q_OBJECT
  static constexpr int kShots = 6;
  QTemporaryDir dir_;
  QString at(const QString& name) const { return dir_.filePath(name); }

  // The shell, as docs/batch.md writes it, in the folder of the list.
  int shell(const QString& line, const QProcessEnvironment& environment, QByteArray* said = nullptr) const {
    QProcess p;
    p.setWorkingDirectory(dir_.path());
    p.setProcessEnvironment(environment);
    p.setProcessChannelMode(QProcess::MergedChannels);
    p.start(QStringLiteral("/bin/sh"), {QStringLiteral("-c"), line});
    if (!p.waitForFinished(300'000)) return -1;
    if (said) *said = p.readAll();
    return p.exitCode();
  }
  void everyShotIsCut() const {
    for (int n = 0; n < kShots; ++n) {
      const auto cut = test::must(
          image::readPicture(at(QStringLiteral("done/shot %1.png").arg(n)).toStdString(), test::memory(), test::here(), {}));
      QCOMPARE(int(test::must(image::read8(cut.pixels, 0, {110, 90, 1, 1})).at(0, 0)[3]), 255);
      QCOMPARE(int(test::must(image::read8(cut.pixels, 0, {10, 10, 1, 1})).at(0, 0)[3]), 0);
    }
  }

 private slots:
  void init() {
    QDir(dir_.path()).removeRecursively();
    QVERIFY(QDir().mkpath(dir_.path()));
    test::writeShots(dir_, kShots);
    QStringList files;
    for (int n = 0; n < kShots; ++n) files << QStringLiteral("\"shot %1.png\"").arg(n);
    QFile list(at(QStringLiteral("list.json")));
    QVERIFY(list.open(QIODevice::WriteOnly));
    list.write(R"({"out": "done", "files": [)" + files.join(QStringLiteral(", ")).toUtf8() + R"(],
      "steps": [["cut", "{file}", "--selection", "near.png", "--band", "{work}/b.png"],
                ["matte", "{file}", "--trimap", "{work}/b.png", "--cutout", "{out}/{stem}.png"]]})");
    list.close();
    const auto printed = test::hseamCommand({"batch", at(QStringLiteral("list.json")), "--print-jobs"});
    QFile jobs(at(QStringLiteral("jobs.txt")));
    QVERIFY(printed.code == 0 && jobs.open(QIODevice::WriteOnly) && jobs.write(printed.out) == printed.out.size());
  }
  void parallelWorksThemOffAndGoesOn() {
    if (QStandardPaths::findExecutable(QStringLiteral("parallel")).isEmpty()) QSKIP("parallel is not installed");
    auto environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("HOME"), dir_.path());
    const QString line = QStringLiteral("parallel --will-cite --joblog done.log --resume -j 2 < jobs.txt");
    // As if it had been ended after two.
    QByteArray said;
    QVERIFY2(
        shell(QStringLiteral("head -2 jobs.txt | parallel --will-cite --joblog done.log --resume -j 2"), environment, &said) == 0,
        said.constData());
    QVERIFY(QFile::exists(at(QStringLiteral("done/shot 1.png"))) && !QFile::exists(at(QStringLiteral("done/shot 2.png"))));
    const QDateTime first = QFileInfo(at(QStringLiteral("done/shot 0.png"))).lastModified();
    QVERIFY2(shell(line, environment, &said) == 0, said.constData());
    everyShotIsCut();
    QCOMPARE(QFileInfo(at(QStringLiteral("done/shot 0.png"))).lastModified(), first);  // not done again
  }
  void aSlurmArrayWorksThemOff() {
    const test::OneNodeCluster cluster;
    if (!cluster.problem().isEmpty()) QSKIP(qPrintable(cluster.problem()));
    QByteArray said;
    const int code = shell(QStringLiteral("sbatch --wait -o said.%a --array=1-$(wc -l < jobs.txt) --cpus-per-task=1 "
                                          "--wrap 'sh -c \"$(sed -n \"${SLURM_ARRAY_TASK_ID}p\" jobs.txt)\"'"),
                           cluster.environment(), &said);
    QVERIFY2(code == 0, said.constData());
    everyShotIsCut();
  }
};
HSEAM_TEST(OtherMachinesTest);
#include "other_machines_test.moc"
