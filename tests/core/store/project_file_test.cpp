#include "core/store/project_file.h"

#include <QProcess>
#include <QTemporaryDir>
#include <fstream>

#include "../render/scenes.h"
#include "core/store/tile_codec.h"

using namespace hseam;
using namespace hseam::store;

namespace {

scene::Scene begin() {
  scene::Scene s;
  s.canvas = {700, 520};
  return s;
}

image::Raster<float> rendered(const scene::Scene& s) {
  return test::rendered(s);
}

}  // namespace

class ProjectFileTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  ProjectFile::Opened fresh(const char* name) const {
    return test::must(ProjectFile::create(at(name), begin(), "new scene", test::memory(), test::here()));
  }
  // Keeps an edit as the window does; the next scene.
  static scene::Scene kept(ProjectFile& file, const scene::Scene& s, const scene::Edit& e, int after) {
    scene::Scene next = test::must(scene::apply(s, e));
    test::must(file.keep({next, scene::describe(s, e)}, scene::editKind(e), after));
    return next;
  }

 private slots:
  void everythingComesBackToTheLastBit() {
    const scene::Scene rich = test::richScene(700, 520, scene::Mixing::linear);
    image::Raster<float> before;
    {
      auto opened = fresh("a.hseam");
      scene::Scene s = begin();
      int step = 0;
      for (const auto& l : rich.layers) s = kept(*opened.file, s, scene::AddLayer{*l, {}, -1}, step++);
      before = rendered(s);
      test::must(opened.file->close());
    }
    // Other memory: nothing may come from the tiles that are still here.
    const auto elsewhere = image::TileMemory::create(std::size_t(1) << 30);
    const auto again = test::must(ProjectFile::open(at("a.hseam"), elsewhere, test::here()));
    QVERIFY(!again.wasUnclean);
    QCOMPARE(again.history.count(), 6);
    QVERIFY(rendered(again.history.scene()).samples() == before.samples());
    QCOMPARE(QString::fromStdString(again.history.step(1).label), QStringLiteral("add layer 1"));
  }
  void undoAndRedoOutliveClosing() {
    {
      auto opened = fresh("undo.hseam");
      scene::Scene s = kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, test::colours(300, 200, 1)), {}, -1}, 0);
      for (int i = 0; i < 5; ++i) s = kept(*opened.file, s, scene::SetOpacity{{1}, 0.1 * (i + 1)}, i + 1);
      test::must(opened.file->setCurrent(3));
    }
    {
      auto again = test::must(ProjectFile::open(at("undo.hseam"), test::memory(), test::here()));
      QCOMPARE(again.history.current(), 3);
      QCOMPARE(again.history.count(), 7);
      QCOMPARE(again.history.scene().layers[0]->opacity, 0.2);
      QCOMPARE(test::must(again.history.sceneOf(6)).layers[0]->opacity, 0.5);
      // A new step after an undo drops the rest, in the file as well.
      kept(*again.file, again.history.scene(), scene::SetHidden{{1}, true}, 3);
    }
    const auto last = test::must(ProjectFile::open(at("undo.hseam"), test::memory(), test::here()));
    QCOMPARE(last.history.count(), 5);
    QVERIFY(last.history.scene().layers[0]->hidden);
  }
  void aStrokeWritesItsTilesOnly() {
    auto opened = fresh("stroke.hseam");
    scene::Layer l = test::pictureLayer(1, test::colours(2048, 1536, 3));
    l.mask.coverage = image::uniformCoverage({2048, 1536}, 255, test::memory());
    scene::Scene s = kept(*opened.file, begin(), scene::AddLayer{l, {}, -1}, 0);
    const auto size = [&] { return QFileInfo(dir_.filePath(QStringLiteral("stroke.hseam-wal"))).size(); };
    const auto before = size();
    test::Noise noise(1);
    image::Raster<std::uint8_t> dot(30, 30);
    for (auto& v : dot.samples()) v = std::uint8_t(noise.below(256));
    s = kept(
        *opened.file, s,
        scene::SetMask{{1}, test::must(image::withPixels(l.mask.coverage, {600, 600, 30, 30}, dot, test::here())), "painted"}, 1);
    const auto grown = size() - before;
    QVERIFY2(grown > 0 && grown < 400'000, qPrintable(QString::number(grown)));  // pages of 16 KiB; the picture alone has 9 MB
  }
  void keptTilesMayLeaveMemoryAndComeBack() {
    const auto tight = image::TileMemory::create(std::size_t(2) << 20);  // far less than the picture
    auto opened = test::must(ProjectFile::create(at("tight.hseam"), begin(), "", tight, test::here()));
    const auto r = test::raster(1500, 1200, 3, [](int x, int y, int c) { return (x * 13 + y * 7 + c * 50 + x * y / 40) % 256; });
    const auto big = test::must(image::tiledFromRaster(r, image::PixelFormat::rgb8, tight, test::here()));
    const scene::Scene s = kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, big), {}, -1}, 0);
    for (int y = 0; y < 1200; y += 200) test::must(image::read8(big, 0, {0, y, 1500, 1}));
    QVERIFY2(tight->residentBytes() < std::size_t(3) << 20, qPrintable(QString::number(tight->residentBytes())));
    QVERIFY(test::must(image::read8(s.layers[0]->picture()->source, 0, {0, 0, 1500, 1200})).samples() == r.samples());
  }
  void sourceFilesAreKeptByteForByteAndOnce() {
    const std::string path = at("photo.bin");
    std::string bytes;
    for (int i = 0; i < 100'000; ++i) bytes += char(i * 31 % 251);
    std::ofstream(path, std::ios::binary) << bytes;
    auto opened = fresh("source.hseam");
    const std::string key = test::must(opened.file->addSourceFile(path));
    QCOMPARE(test::must(opened.file->addSourceFile(path)), key);
    QCOMPARE(test::must(sourceKeyOf(path)), key);
    const auto back = test::must(opened.file->sourceFile(key));
    QVERIFY(std::string(reinterpret_cast<const char*>(back.data()), back.size()) == bytes);
    QCOMPARE(opened.file->sourceFile("nothing").error().code, base::Code::corrupt);
    QCOMPARE(opened.file->addSourceFile(at("not there")).error().code, base::Code::unreadable);
  }
  void copiesAreWholeAndReplaceOnlyWhenWhole() {
    auto opened = fresh("orig.hseam");
    const scene::Scene s =
        kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, test::colours(300, 200, 1)), {}, -1}, 0);
    std::ofstream(at("copy.hseam")) << "something else";
    test::must(opened.file->copyTo(at("copy.hseam")));
    const auto copy = test::must(ProjectFile::open(at("copy.hseam"), test::memory(), test::here()));
    QVERIFY(!copy.wasUnclean);
    QVERIFY(rendered(copy.history.scene()).samples() == rendered(s).samples());
    QCOMPARE(opened.file->copyTo("/nowhere/at/all.hseam").error().code, base::Code::unwritable);
    // What goes on in the original does not reach the copy.
    kept(*opened.file, s, scene::SetHidden{{1}, true}, 1);
    QVERIFY(!copy.history.scene().layers[0]->hidden);
  }
  void aKilledProgramLosesNothingItHadKept() {
    auto opened = fresh("killed.hseam");
    kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, test::colours(300, 200, 1)), {}, -1}, 0);
    // What is on the disk now is what a killed process leaves.
    for (const char* ending : {"", "-wal", "-shm"})
      QFile::copy(dir_.filePath(QStringLiteral("killed.hseam") + QLatin1String(ending)),
                  dir_.filePath(QStringLiteral("left.hseam") + QLatin1String(ending)));
    const auto left = test::must(ProjectFile::open(at("left.hseam"), test::memory(), test::here()));
    QVERIFY(left.wasUnclean);
    QCOMPARE(left.history.count(), 2);
  }
  void otherFilesAreToldApart_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<int>("code");
    QTest::newRow("text") << QByteArray("not a project at all, only some text that is long enough to look at").repeated(20)
                          << int(base::Code::corrupt);
    QTest::newRow("empty") << QByteArray() << int(base::Code::corrupt);
    QTest::newRow("sqlite header only") << QByteArray("SQLite format 3\0", 16) + QByteArray(84, '\0') << int(base::Code::corrupt);
  }
  void otherFilesAreToldApart() {
    QFETCH(QByteArray, bytes);
    QFETCH(int, code);
    QFile f(dir_.filePath(QStringLiteral("other.hseam")));
    QVERIFY(f.open(QIODevice::WriteOnly | QIODevice::Truncate));
    f.write(bytes);
    f.close();
    const auto opened = ProjectFile::open(at("other.hseam"), test::memory(), test::here());
    QVERIFY(!opened.ok());
    QCOMPARE(int(opened.error().code), code);
    // Looking at it has not changed it.
    QVERIFY(f.open(QIODevice::ReadOnly));
    QCOMPARE(f.readAll(), bytes);
  }
  void newerAndDamagedProjectsAreRefused() {
    {
      auto opened = fresh("newer.hseam");
      kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, test::colours(300, 200, 1)), {}, -1}, 0);
    }
    QFile::copy(dir_.filePath(QStringLiteral("newer.hseam")), dir_.filePath(QStringLiteral("cut.hseam")));
    QFile::copy(dir_.filePath(QStringLiteral("newer.hseam")), dir_.filePath(QStringLiteral("lost.hseam")));
    {
      auto d = test::must(Database::open(at("newer.hseam"), Database::Mode::readWrite));
      test::must(d.execute("PRAGMA user_version=99"));
      auto l = test::must(Database::open(at("lost.hseam"), Database::Mode::readWrite));
      test::must(l.execute("DELETE FROM item"));
    }
    QCOMPARE(ProjectFile::open(at("newer.hseam"), test::memory(), test::here()).error().code, base::Code::unsupported);
    QCOMPARE(ProjectFile::open(at("lost.hseam"), test::memory(), test::here()).error().code, base::Code::corrupt);
    QFile cut(dir_.filePath(QStringLiteral("cut.hseam")));
    QVERIFY(cut.open(QIODevice::ReadWrite) && cut.resize(cut.size() / 3));
    cut.close();
    const auto opened = ProjectFile::open(at("cut.hseam"), test::memory(), test::here());
    QVERIFY(!opened.ok());
    QVERIFY(opened.error().text().find("cut.hseam") != std::string::npos);
    QCOMPARE(ProjectFile::open(at("nowhere.hseam"), test::memory(), test::here()).error().code, base::Code::notFound);
    QCOMPARE(ProjectFile::create(at("lost.hseam"), begin(), "", test::memory(), test::here()).error().code, base::Code::conflict);
    QCOMPARE(ProjectFile::create("/nowhere/x.hseam", begin(), "", test::memory(), test::here()).error().code,
             base::Code::unwritable);
  }
  void lookingLeavesEverythingAlone() {
    auto opened = fresh("look.hseam");
    const scene::Scene s =
        kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, test::colours(300, 200, 1)), {}, -1}, 0);
    {
      // While another has it open for writing.
      const auto look = test::must(ProjectFile::openToRead(at("look.hseam"), image::TileMemory::create(1 << 28), test::here()));
      QVERIFY(rendered(look.history.scene()).samples() == rendered(s).samples());
      QVERIFY(!look.file->keep({s, "x"}, "SetName", 1).ok());
      QVERIFY(!look.file->setCurrent(0).ok());
    }
    kept(*opened.file, s, scene::SetHidden{{1}, true}, 1);
    test::must(opened.file->close());
    QVERIFY(QDir().mkpath(dir_.filePath(QStringLiteral("shelf"))));
    QVERIFY(QFile::copy(dir_.filePath(QStringLiteral("look.hseam")), dir_.filePath(QStringLiteral("shelf/look? 50% #1.hseam"))));
    const auto kept = test::must(ProjectFile::openToRead(at("shelf/look? 50% #1.hseam"), test::memory(), test::here()));
    QCOMPARE(kept.history.count(), 3);
  }
  void closingLeavesNoLog() {
    {
      auto opened = fresh("tidy.hseam");
      kept(*opened.file, begin(), scene::AddLayer{test::pictureLayer(1, test::colours(100, 80, 1)), {}, -1}, 0);
    }
    QVERIFY(!QFileInfo::exists(dir_.filePath(QStringLiteral("tidy.hseam-wal"))));
    QVERIFY(QFileInfo::exists(dir_.filePath(QStringLiteral("tidy.hseam"))));
  }
};
HSEAM_TEST(ProjectFileTest);

class TileCodecTest : public QObject {
  Q_OBJECT
 private slots:
  void everyByteComesBack() {
    test::Noise noise(8);
    for (const std::size_t step : {std::size_t(1), std::size_t(3), std::size_t(4), std::size_t(6), std::size_t(8)}) {
      image::Bytes bytes(image::kTilePixels * step);
      for (std::size_t i = 0; i < bytes.size(); ++i) bytes[i] = std::byte(i / step % 97 + std::size_t(noise.below(4)));
      const auto packed = packTile(bytes, step);
      QVERIFY(packed.size() < bytes.size() * 3 / 4);
      QVERIFY(test::must(unpackTile(packed, bytes.size(), step)) == bytes);
    }
  }
  void damagedTilesAreCorrupt() {
    const image::Bytes bytes(image::kTilePixels, std::byte(7));
    auto packed = packTile(bytes, 1);
    QCOMPARE(unpackTile(std::span(packed).first(packed.size() / 2), bytes.size(), 1).error().code, base::Code::corrupt);
    QCOMPARE(unpackTile(packed, bytes.size() * 2, 1).error().code, base::Code::corrupt);
    packed[0] = std::byte(0);
    QCOMPARE(unpackTile(packed, bytes.size(), 1).error().code, base::Code::corrupt);
    QCOMPARE(unpackTile({}, bytes.size(), 1).error().code, base::Code::corrupt);
  }
  void manifestsComeBackOrAreCorrupt() {
    const auto image = test::picture(700, 300, 3, [](int x, int, int) { return x < 256 ? 9 : x % 256; });
    const auto packed = packManifest(image, [](const image::ContentHash&) { return TilePlace{7, 40, 900}; });
    const auto reader = std::make_shared<TileReader>(std::make_shared<ReadPool>("none.hseam", Database::Mode::readOnly));
    const auto back = test::must(unpackManifest(packed, test::memory(), *reader));
    const auto place = reader->placeOf(image.level(0).tile(1, 0)->hash());
    QVERIFY(place && place->item == 7 && place->offset == 40 && place->bytes == 900);
    QCOMPARE(back.size(), image.size());
    QCOMPARE(back.levelCount(), image.levelCount());
    for (int c = 0; c < 3; ++c) QVERIFY(back.level(0).tile(c, 0)->hash() == image.level(0).tile(c, 0)->hash());
    QVERIFY(back.level(0).tile(0, 0)->uniform().has_value());
    for (std::size_t cut = 0; cut < packed.size(); cut += std::max<std::size_t>(1, packed.size() / 40))
      QVERIFY(!unpackManifest(std::span(packed).first(cut), test::memory(), *reader).ok());
    QCOMPARE(QString::fromStdString(hexOf({0x0123456789abcdefull, 0xfedcba9876543210ull})),
             QStringLiteral("0123456789abcdeffedcba9876543210"));
  }
};
HSEAM_TEST(TileCodecTest);
#include "project_file_test.moc"
