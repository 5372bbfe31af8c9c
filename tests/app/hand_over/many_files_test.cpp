#include <QListWidget>

#include "app/stations/hand_over/many_files.h"
#include "app/window.h"
#include "core/batch/journal.h"
#include "test_main.h"

using namespace hseam;

class ManyFilesTest : public QObject {
  Q_OBJECT
  static void writeShot(const QString& path, int n) {
    test::must(image::writeTiled(path.toStdString(), test::picture(240, 200, 3, [&](int x, int y, int c) {
                                   const double a = std::clamp(60 - std::hypot(x - 110.0 - n, y - 100.0) + 0.5, 0.0, 1.0);
                                   return a * (c == n % 3 ? 190 : 60) + (1 - a) * 225 + (x * 5 + y * 11) % 7;
                                 })));
  }
  static void waitFor(const std::function<bool()>& done) {
    QElapsedTimer clock;
    clock.start();
    while (!done() && clock.elapsed() < 180'000) QTest::qWait(50);
  }

 private slots:
  // A list is made in the window, ended in the middle, and goes on where it was.
  void manyAreCutOut() {
    const QTemporaryDir shots, results;
    for (int n = 0; n < 6; ++n) writeShot(shots.filePath(QStringLiteral("shot %1.png").arg(n)), n);
    QFile broken(shots.filePath(QStringLiteral("broken.png")));
    QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("no picture") > 0);
    broken.close();
    const std::string list = results.filePath(QStringLiteral("list.json")).toStdString();
    test::Window w;
    w.goTo(test::kHandOver);
    w.openPage("many");
    auto* page = w->findChild<app::ManyFiles*>();
    QVERIFY(!w.find<QPushButton>(QStringLiteral("Do it, into a folder…"))->isEnabled());
    page->take({shots.path()});
    QVERIFY(w.labelThatBegins(QStringLiteral("7 files")));
    page->begin(results.path());
    waitFor([&] { return batch::Journal::look(list).size() >= 2; });
    w.click(QStringLiteral("Stop"));
    waitFor([&] { return !w.find<QPushButton>(QStringLiteral("Stop"))->isEnabled(); });
    const std::size_t before = batch::Journal::look(list).size();
    QVERIFY2(before >= 2 && before < 7, qPrintable(QString::number(before)));
    page->begin(results.path());
    waitFor([&] { return !w.find<QPushButton>(QStringLiteral("Stop"))->isEnabled(); });
    QCOMPARE(batch::Journal::look(list).size(), std::size_t(7));
    QVERIFY(w.labelThatBegins(QStringLiteral("6 of 7 done, 1 failed")));
    QVERIFY(w.find<QListWidget>(QStringLiteral("Files that failed"))->item(0)->text().startsWith(QStringLiteral("broken.png")));
    for (int n = 0; n < 6; ++n) {
      const auto cut = test::must(image::readPicture(results.filePath(QStringLiteral("shot %1.png").arg(n)).toStdString(),
                                                     test::memory(), test::here(), {}));
      QVERIFY(int(test::must(image::read8(cut.pixels, 0, {110 + n, 100, 1, 1})).at(0, 0)[3]) == 255);
      QVERIFY(int(test::must(image::read8(cut.pixels, 0, {4, 4, 1, 1})).at(0, 0)[3]) == 0);
    }
    // Another list in the same folder: the lines of the one before do not count.
    page->take({shots.filePath(QStringLiteral("broken.png"))});
    page->begin(results.path());
    waitFor([&] { return !w.find<QPushButton>(QStringLiteral("Stop"))->isEnabled(); });
    QVERIFY(w.labelThatBegins(QStringLiteral("0 of 1 done, 1 failed")));
  }
};
HSEAM_TEST(ManyFilesTest);
#include "many_files_test.moc"
