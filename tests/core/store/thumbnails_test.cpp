#include "core/store/thumbnails.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <thread>

#include "core/image/picture_file.h"
#include "core/store/verified_copy.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;
using base::Code;

class ThumbnailsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const QString& name) const { return dir_.filePath(name).toStdString(); }
  void write(const QString& name, int value) const {
    test::must(image::writeTiled(
        at(name), test::picture(640, 480, 3, [value](int x, int, int c) { return (x / 4 + c * 30 + value) % 256; })));
  }
  QByteArray get(const QString& name) const {
    QFile f(dir_.filePath(name));
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }

 private slots:
  void theyAreKnownByWhatTheFileHolds() {
    const std::string folder = at(QStringLiteral("cache"));
    write(QStringLiteral("a.png"), 10);
    image::Raster<std::uint8_t> first;
    {
      store::Thumbnails cache(folder);
      first = test::must(cache.of(at(QStringLiteral("a.png")), 64));
      QCOMPARE(first.size(), (base::Size{64, 48}));
    }
    // Under another name, by another object.
    store::Thumbnails cache(folder);
    QVERIFY(QFile::rename(dir_.filePath(QStringLiteral("a.png")), dir_.filePath(QStringLiteral("b.png"))));
    QVERIFY(test::must(cache.of(at(QStringLiteral("b.png")), 64)).samples() == first.samples());
    // Changed: it is another one.
    write(QStringLiteral("b.png"), 90);
    QVERIFY(test::must(cache.of(at(QStringLiteral("b.png")), 64)).samples() != first.samples());
    QCOMPARE(cache.of(at(QStringLiteral("none.png")), 64).error().code, Code::notFound);
  }
  void aBrokenCacheIsMadeAnew() {
    const std::string folder = at(QStringLiteral("broken"));
    QDir().mkpath(dir_.filePath(QStringLiteral("broken")));
    QFile f(dir_.filePath(QStringLiteral("broken/thumbnails.sqlite")));
    QVERIFY(f.open(QIODevice::WriteOnly) && f.write(QByteArray(5000, 'x')) == 5000);
    f.close();
    write(QStringLiteral("c.png"), 3);
    store::Thumbnails cache(folder);
    QCOMPARE(test::must(cache.of(at(QStringLiteral("c.png")), 64)).width(), 64);
    QVERIFY(QFile(dir_.filePath(QStringLiteral("broken/thumbnails.sqlite"))).size() != 5000);
    // No folder at all: nothing is kept, and all is shown.
    store::Thumbnails nowhere("/proc/nowhere");
    QCOMPARE(test::must(nowhere.of(at(QStringLiteral("c.png")), 64)).width(), 64);
  }
  void manyThreadsAtATime() {
    for (int i = 0; i < 12; ++i) write(QStringLiteral("t%1.png").arg(i), i * 15);
    store::Thumbnails cache(at(QStringLiteral("many")));
    std::atomic<int> good{0};
    std::vector<std::jthread> threads;
    for (int t = 0; t < 4; ++t) {
      threads.emplace_back([&] {
        for (int i = 0; i < 12; ++i) good += cache.of(at(QStringLiteral("t%1.png").arg(i)), 32).ok();
      });
    }
    threads.clear();
    QCOMPARE(good.load(), 48);
  }
  void copiesAreCompared() {
    QDir().mkpath(dir_.filePath(QStringLiteral("to")));
    write(QStringLiteral("d.png"), 5);
    test::must(store::copyVerified(at(QStringLiteral("d.png")), at(QStringLiteral("to"))));
    QCOMPARE(get(QStringLiteral("to/d.png")), get(QStringLiteral("d.png")));
    test::must(store::copyVerified(at(QStringLiteral("d.png")), at(QStringLiteral("to"))));  // it is there already
    write(QStringLiteral("d.png"), 77);
    const QByteArray there = get(QStringLiteral("to/d.png"));
    QCOMPARE(store::copyVerified(at(QStringLiteral("d.png")), at(QStringLiteral("to"))).error().code, Code::conflict);
    QCOMPARE(get(QStringLiteral("to/d.png")), there);
    QCOMPARE(store::copyVerified(at(QStringLiteral("none")), at(QStringLiteral("to"))).error().code, Code::notFound);
    QCOMPARE(store::copyVerified(at(QStringLiteral("d.png")), "/nowhere").error().code, Code::unwritable);
    QFile empty(dir_.filePath(QStringLiteral("empty.png")));
    QVERIFY(empty.open(QIODevice::WriteOnly));
    empty.close();
    test::must(store::copyVerified(at(QStringLiteral("empty.png")), at(QStringLiteral("to"))));
    QVERIFY(QFile::exists(dir_.filePath(QStringLiteral("to/empty.png"))));
    QCOMPARE(QDir(dir_.filePath(QStringLiteral("to"))).entryList({QStringLiteral("*.part")}).size(), 0);
  }
};
HSEAM_TEST(ThumbnailsTest);
#include "thumbnails_test.moc"
