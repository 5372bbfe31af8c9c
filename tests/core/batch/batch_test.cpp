#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <thread>

#include "core/batch/run.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using base::Code;

class BatchTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  QString at(const QString& name) const { return dir_.filePath(name); }
  QString put(const QString& name, const QByteArray& bytes) const {
    QFile f(at(name));
    if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size()) qFatal("cannot write %s", qPrintable(name));
    return at(name);
  }
  QByteArray get(const QString& name) const {
    QFile f(at(name));
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }
  static base::Result<batch::List> read(const QString& path) { return batch::readList(path.toStdString()); }
  // Stands for hseam: notes what it is asked for, fails on files called bad, breaks down on files called worse.
  QString program() const {
    const QString path =
        put(QStringLiteral("stand-in"),
            "#!/bin/sh\n"
            "case \"$*\" in *bad*) echo 'hseam: bad.png: this is no picture' >&2; exit 1;; *worse*) kill -SEGV $$;; esac\n"
            "sleep 0.05\n"
            "echo \"$*\" >> \"" +
                at(QStringLiteral("asked")).toUtf8() + "\"\n");
    QFile::setPermissions(path, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    return path;
  }
  batch::RunOptions options(int workers) const {
    batch::RunOptions o;
    o.program = program().toStdString();
    o.workers = workers;
    return o;
  }
  // Many files, each of which is filled into itself.
  QString manyFiles(const QString& name, const QStringList& files) const {
    QByteArray json = "{\"out\": \"done\", \"steps\": [[\"fill\", \"{file}\", \"--out\", \"{out}/{stem}.png\"]], \"files\": [";
    for (qsizetype i = 0; i < files.size(); ++i) json += (i > 0 ? ", " : "") + ("\"" + files[i].toUtf8() + "\"");
    return put(name, json + "]}");
  }
  QStringList asked() const {
    QStringList lines = QString::fromUtf8(get(QStringLiteral("asked"))).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    lines.sort();
    return lines;
  }
  void forget() const {
    QFile::remove(at(QStringLiteral("asked")));
    for (const QString& f : QDir(dir_.path()).entryList({QStringLiteral("*.journal")})) QFile::remove(at(f));
  }

 private slots:
  void init() { forget(); }
  void placesAreFilledIn() {
    const auto list = test::must(read(put(QStringLiteral("list.json"), R"({
      "out": "done",
      "files": ["shots/a cat.jpg", "b.png"],
      "steps": [["select", "{file}", "--subject", "--out", "{work}/s.png"], ["cut", "{file}", "--selection", "{work}/s.png", "--cutout", "{out}/{stem}.png"]],
      "jobs": [{"name": "poster", "steps": [["export", "poster.hseam", "--out", "poster.jpg"]]}]})")));
    const std::string folder = dir_.path().toStdString();
    QCOMPARE(list.jobs.size(), std::size_t(3));
    QCOMPARE(list.jobs[0].name, std::string("a cat.jpg"));
    QCOMPARE(list.jobs[0].steps[0][1], folder + "/shots/a cat.jpg");
    QCOMPARE(list.jobs[0].steps[1].back(), folder + "/done/a cat.png");
    QCOMPARE(list.jobs[0].steps[0].back(), list.jobs[0].work + "/s.png");
    QVERIFY(list.jobs[0].work != list.jobs[1].work && list.jobs[2].work.empty());
    // The line does the same in a shell: names with blanks are one argument.
    const std::string line = batch::commandLine(list, list.jobs[0], "hseam");
    QVERIFY2(
        line.find("'" + folder + "/shots/a cat.jpg'") != std::string::npos && line.find(" && hseam cut ") != std::string::npos,
        line.c_str());
  }
  void listsThatMakeNoSenseAreRefused_data() {
    QTest::addColumn<QByteArray>("json");
    QTest::addColumn<int>("code");
    QTest::addColumn<QByteArray>("says");
    const int wrong = int(Code::invalid);
    QTest::newRow("no JSON") << QByteArray("{\"files\": [") << int(Code::corrupt) << QByteArray("no JSON");
    QTest::newRow("unknown key") << QByteArray(R"({"file": ["a"]})") << wrong << QByteArray("\"file\"");
    QTest::newRow("no steps") << QByteArray(R"({"files": ["a"]})") << wrong << QByteArray("needs");
    QTest::newRow("unknown command") << QByteArray(R"({"files": ["a"], "steps": [["rm", "-rf"]]})") << wrong
                                     << QByteArray("\"rm\"");
    QTest::newRow("a batch in it") << QByteArray(R"({"files": ["a"], "steps": [["batch", "x"]]})") << wrong
                                   << QByteArray("\"batch\"");
    QTest::newRow("unknown place") << QByteArray(R"({"files": ["a"], "steps": [["info", "{name}"]]})") << wrong
                                   << QByteArray("{name}");
    QTest::newRow("no out") << QByteArray(R"({"files": ["a"], "steps": [["info", "{out}/x"]]})") << wrong
                            << QByteArray("no \"out\"");
    QTest::newRow("one name twice") << QByteArray(R"({"files": ["x/a.png", "y/a.png"], "steps": [["info", "{file}"]]})") << wrong
                                    << QByteArray("a.png");
    QTest::newRow("wrong types") << QByteArray(R"({"files": "a", "steps": 7})") << wrong << QByteArray("does not read");
    QTest::newRow("nothing") << QByteArray("{}") << wrong << QByteArray("nothing to do");
  }
  void listsThatMakeNoSenseAreRefused() {
    QFETCH(QByteArray, json);
    QFETCH(int, code);
    QFETCH(QByteArray, says);
    const auto list = read(put(QStringLiteral("wrong.json"), json));
    QVERIFY(!list.ok());
    QCOMPARE(int(list.error().code), code);
    QVERIFY2(QByteArray::fromStdString(list.error().detail).contains(says), list.error().detail.c_str());
    QCOMPARE(read(at(QStringLiteral("none.json"))).error().code, Code::notFound);
  }
  void brokenFilesStopNobody() {
    const auto list =
        test::must(read(manyFiles(QStringLiteral("mixed.json"), {"a.png", "bad.png", "b.png", "worse.png", "c.png"})));
    std::vector<int> ended;
    const auto outcome = test::must(batch::run(list, options(2), [&](const batch::HowFar& f) { ended.push_back(f.ended); }, {}));
    QCOMPARE(outcome.done, 3);
    QCOMPARE(outcome.failed.size(), std::size_t(2));
    for (const batch::Failure& f : outcome.failed) {
      if (f.job == "bad.png") QCOMPARE(f.said, std::string("bad.png: this is no picture"));
      if (f.job == "worse.png") QVERIFY2(f.said.find("broke down") != std::string::npos, f.said.c_str());
    }
    QCOMPARE(asked().size(), 3);
    QCOMPARE(ended, (std::vector<int>{0, 1, 2, 3, 4, 5}));
    // Once more: what was done is not done again, what failed is tried.
    const auto more = test::must(batch::run(list, options(2), [](const batch::HowFar&) {}, {}));
    QVERIFY(more.done == 0 && more.before == 3 && more.failed.size() == 2);
    QCOMPARE(asked().size(), 3);
    // A file that has changed is done anew.
    put(QStringLiteral("a.png"), "other");
    QCOMPARE(test::must(batch::run(list, options(1), [](const batch::HowFar&) {}, {})).done, 1);
  }
  void aKilledRunGoesOnWhereItWas() {
    QStringList files;
    for (int i = 0; i < 24; ++i) files << QStringLiteral("f%1.png").arg(i);
    const QString path = manyFiles(QStringLiteral("many.json"), files);
    const auto list = test::must(read(path));
    const batch::RunOptions two = options(2);
    for (int killed = 0; killed < 3; ++killed) {
      const pid_t child = fork();
      if (child == 0) {
        (void)batch::run(list, two, [](const batch::HowFar&) {}, {});
        _exit(0);
      }
      // Killed when it has done two more, whatever the machine's pace.
      const std::size_t wanted = 2 * std::size_t(killed + 1);
      QVERIFY(QTest::qWaitFor([&] { return batch::Journal::look(path.toStdString()).size() >= wanted; }, 30'000));
      kill(child, SIGKILL);
      waitpid(child, nullptr, 0);
    }
    // The stand-ins that were under way when it was killed end by themselves.
    std::this_thread::sleep_for(std::chrono::milliseconds(200));
    const auto before = batch::Journal::look(path.toStdString());
    QVERIFY2(before.size() >= 3 && before.size() < 24, qPrintable(QString::number(before.size())));
    const auto outcome = test::must(batch::run(list, two, [](const batch::HowFar&) {}, {}));
    QCOMPARE(outcome.done + outcome.before, 24);
    QCOMPARE(std::size_t(outcome.before), before.size());
    QVERIFY(outcome.failed.empty());
    // Each is noted once, and nothing that was noted has been asked for again.
    QCOMPARE(get(QStringLiteral("many.json.journal")).count('\n'), 24);
    QStringList once = asked();
    once.removeDuplicates();
    QCOMPARE(once.size(), 24);
    QVERIFY2(asked().size() <= 24 + 3 * 2, qPrintable(QString::number(asked().size())));
  }
  void twoRunsDoNotMeet() {
    const QString path = manyFiles(QStringLiteral("held.json"), {"a.png"});
    const auto held = test::must(batch::Journal::open(path.toStdString()));
    QCOMPARE(batch::run(test::must(read(path)), options(1), [](const batch::HowFar&) {}, {}).error().code, Code::conflict);
  }
  void aLineThatWasCutOffDoesNotCount() {
    const QString path = manyFiles(QStringLiteral("torn.json"), {"a.png", "b.png"});
    const auto list = test::must(read(path));
    (void)test::must(batch::run(list, options(1), [](const batch::HowFar&) {}, {}));
    const QByteArray whole = get(QStringLiteral("torn.json.journal"));
    put(QStringLiteral("torn.json.journal"), whole.left(whole.size() - 9));
    const auto outcome = test::must(batch::run(list, options(1), [](const batch::HowFar&) {}, {}));
    QVERIFY(outcome.before == 1 && outcome.done == 1);
    QCOMPARE(batch::Journal::look(path.toStdString()).size(), std::size_t(2));
  }
  void aStopEndsItAndNothingIsLost() {
    QStringList files;
    for (int i = 0; i < 30; ++i) files << QStringLiteral("s%1.png").arg(i);
    const auto list = test::must(read(manyFiles(QStringLiteral("stopped.json"), files)));
    std::stop_source stop;
    const auto outcome = test::must(batch::run(
        list, options(1),
        [&](const batch::HowFar& f) {
          if (f.ended == 4) stop.request_stop();
        },
        stop.get_token()));
    QVERIFY(outcome.stopped && outcome.done == 4);
    QCOMPARE(test::must(batch::run(list, options(4), [](const batch::HowFar&) {}, {})).before, 4);
  }
  void tenThousandJobsCostLittle() {
    QStringList files;
    for (int i = 0; i < 10'000; ++i) files << QStringLiteral("t%1.png").arg(i);
    const QString path = manyFiles(QStringLiteral("long.json"), files);
    const auto list = test::must(read(path));
    QCOMPARE(list.jobs.size(), std::size_t(10'000));
    // All but the last are noted as done: the rest is found and done.
    {
      auto journal = test::must(batch::Journal::open(path.toStdString()));
      QFile f(at(QStringLiteral("long.json.journal")));
      QVERIFY(f.open(QIODevice::Append));
      for (std::size_t i = 0; i + 1 < list.jobs.size(); ++i)
        f.write(QByteArray::fromStdString("{\"job\": \"" + list.jobs[i].name + "\", \"stamp\": \"" +
                                          batch::stampOf(list, list.jobs[i]) + "\", \"ok\": true}\n"));
    }
    const auto outcome = test::must(batch::run(list, options(2), [](const batch::HowFar&) {}, {}));
    QVERIFY(outcome.before == 9'999 && outcome.done == 1);
    QCOMPARE(asked().size(), 1);
  }
};
HSEAM_TEST(BatchTest);
#include "batch_test.moc"
