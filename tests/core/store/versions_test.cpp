// Projects of other versions, projects with gaps, what is kept in parts, and what is read only when it is asked for.

#include <sys/mman.h>

#include <QFile>
#include <QTemporaryDir>
#include <fstream>

#include "../render/scenes.h"
#include "core/store/project_file.h"
#include "core/store/project_schema.h"

using namespace hseam;
using namespace hseam::store;

class VersionsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  static std::shared_ptr<image::TileMemory> ownMemory() { return image::TileMemory::create(std::size_t(1) << 28); }
  ProjectFile::Opened opened(const char* name) const {
    return test::must(ProjectFile::open(at(name), ownMemory(), test::here()));
  }
  // A file of an older version, made by that version.
  void put(const char* version, const char* name) const {
    const QString target = dir_.filePath(QLatin1String(name));
    QFile::remove(target);
    QVERIFY(QFile::copy(QStringLiteral(HSEAM_VERSIONS "/") + QLatin1String(version), target));
    QFile::setPermissions(target, QFile::ReadOwner | QFile::WriteOwner);
  }
  // A picture and `strokes` masks on it.
  ProjectFile::Opened painted(const char* name, int strokes) const {
    scene::Scene s;
    s.canvas = {1200, 900};
    s.layers = {test::ref(test::pictureLayer(1, test::colours(1200, 900, 1)))};
    auto o = test::must(ProjectFile::create(at(name), s, "begin", test::memory(), test::here()));
    for (int i = 0; i < strokes; ++i) {
      const auto& mask = o.history.scene().layers[0]->mask.coverage;
      const auto before = mask.isNull() ? image::uniformCoverage({1200, 900}, 255, test::memory()) : mask;
      image::Raster<std::uint8_t> dab(40, 40);
      for (std::size_t k = 0; k < dab.samples().size(); ++k) dab.samples()[k] = std::uint8_t(k * 7 + std::size_t(i) * 13);
      keep(o,
           scene::SetMask{
               {1}, test::must(image::withPixels(before, {i * 67 % 1100, i * 31 % 800, 40, 40}, dab, test::here())), "painted"});
    }
    return o;
  }
  static void keep(ProjectFile::Opened& o, const scene::Edit& e) {
    scene::Step step{test::must(scene::apply(o.history.scene(), e)), scene::describe(o.history.scene(), e), 0,
                     scene::editKind(e)};
    test::must(o.file->keep(step, step.kind, o.history.current()));
    o.history.push(std::move(step));
  }

 private slots:
  void version2IsBroughtUpToDate() {
    put("version-2.hseam", "old.hseam");
    {
      // Looked at where it lies, it is read as it is.
      const auto look = test::must(ProjectFile::openToRead(at("old.hseam"), ownMemory(), test::here()));
      QCOMPARE(look.history.count(), 8);
      QCOMPARE(test::must(look.file->sourceFile(test::must(look.file->contents()).sources.at(0).key)).size(), std::size_t(17617));
    }
    auto o = opened("old.hseam");
    QVERIFY(!o.wasUnclean);
    QCOMPARE(o.history.count(), 8);
    QCOMPARE(o.history.current(), 5);
    QCOMPARE(QString::fromStdString(o.history.step(1).label), QStringLiteral("mask of tile: painted"));
    QCOMPARE(o.history.scene().layers[0]->name, std::string("step 2"));
    const auto sources = test::must(o.file->contents()).sources;
    QCOMPARE(sources.size(), std::size_t(1));
    QCOMPARE(sources[0].file, std::string("tile.png"));
    QCOMPARE(sources[0].key, o.history.scene().layers[0]->picture()->sourceHash);
    const auto bytes = test::must(o.file->sourceFile(sources[0].key));
    QCOMPARE(bytes.size(), std::size_t(17617));
    QVERIFY(std::memcmp(bytes.data(), "\x89PNG", 4) == 0);
    // The picture itself: x·5, y·7 and x·y mod 251, as it was made.
    const auto pixels = test::must(image::read8(o.history.scene().layers[0]->picture()->source, 0, {0, 0, 96, 64}));
    for (const auto& [x, y] : {std::pair(3, 9), {95, 63}, {50, 20}})
      QVERIFY(pixels.at(x, y)[0] == x * 5 % 256 && pixels.at(x, y)[1] == y * 7 % 256 && pixels.at(x, y)[2] == x * y % 251);
    test::must(o.history.goTo(7));
    QCOMPARE(o.history.scene().layers.size(), std::size_t(3));
    keep(o, scene::SetOpacity{{1}, 0.5});
    test::must(o.file->close());
    const auto again = opened("old.hseam");
    QCOMPARE(again.history.count(), 9);
    auto d = test::must(Database::open(at("old.hseam"), Database::Mode::readOnly));
    QCOMPARE(test::must(d.number("PRAGMA user_version")), kSchemaVersion);
  }
  void aNewerVersionIsLookedAtIfItAllowsIt() {
    { painted("newer.hseam", 1); }
    const auto set = [&](const char* sql) {
      auto d = test::must(Database::open(at("newer.hseam"), Database::Mode::readWrite));
      test::must(d.execute(sql));
    };
    set("PRAGMA user_version=99");
    const auto toWrite = ProjectFile::open(at("newer.hseam"), ownMemory(), test::here());
    QCOMPARE(toWrite.error().code, base::Code::unsupported);
    QVERIFY2(toWrite.error().detail.find("look") != std::string::npos, toWrite.error().text().c_str());
    QCOMPARE(test::must(ProjectFile::openToRead(at("newer.hseam"), ownMemory(), test::here())).history.count(), 2);
    set("UPDATE meta SET value = 50 WHERE key = 'readableFrom'");
    QCOMPARE(ProjectFile::openToRead(at("newer.hseam"), ownMemory(), test::here()).error().code, base::Code::unsupported);
  }
  void aGapCannotBeWritten() {
    auto o = painted("nogap.hseam", 2);
    QCOMPARE(o.file->keep({o.history.scene(), "x"}, "SetName", 5).error().code, base::Code::conflict);
    QCOMPARE(o.file->setCurrent(9).error().code, base::Code::conflict);
    test::must(o.file->close());
    QCOMPARE(opened("nogap.hseam").history.current(), 2);
  }
  void aGapIsToldAndAllOtherStepsAreThere() {
    { painted("gap.hseam", 6); }
    {
      auto d = test::must(Database::open(at("gap.hseam"), Database::Mode::readWrite));
      test::must(d.execute("DELETE FROM step WHERE sequence IN (3, 4)"));
    }
    const auto look = test::must(ProjectFile::openToRead(at("gap.hseam"), ownMemory(), test::here()));
    QCOMPARE(look.history.count(), 5);
    QVERIFY(look.history.scene().layers[0]->mask.acts());
    auto o = opened("gap.hseam");
    QCOMPARE(o.missingSteps, (std::vector<int>{3, 4}));
    QCOMPARE(o.history.count(), 5);
    QCOMPARE(o.history.current(), 4);
    for (int i = 0; i < 5; ++i) test::must(o.history.sceneOf(i));
    keep(o, scene::SetOpacity{{1}, 0.5});
    test::must(o.file->close());
    const auto again = opened("gap.hseam");
    QVERIFY(again.missingSteps.empty());
    QCOMPARE(again.history.count(), 6);
    // The last ones may be missing as well: the current step was never written.
    { painted("tail.hseam", 4); }
    {
      auto d = test::must(Database::open(at("tail.hseam"), Database::Mode::readWrite));
      test::must(d.execute("DELETE FROM step WHERE sequence >= 3"));
    }
    const auto tail = opened("tail.hseam");
    QCOMPARE(tail.history.count(), 3);
    QCOMPARE(tail.history.current(), 2);
    QVERIFY(!tail.missingSteps.empty());
  }
  void sourcesLieInParts() {
    const std::string path = at("large.bin");
    std::string bytes;
    for (int i = 0; i < 25'300; ++i) bytes += char(i * 31 % 251);
    std::ofstream(path, std::ios::binary) << bytes;
    std::ofstream(at("empty.bin"), std::ios::binary) << "";
    auto o = painted("parts.hseam", 0);
    const std::string key = test::must(o.file->addSourceFile(path, 1000));
    QCOMPARE(key, test::must(sourceKeyOf(path)));
    QCOMPARE(test::must(o.file->addSourceFile(path, 700)), key);
    const std::string none = test::must(o.file->addSourceFile(at("empty.bin")));
    const auto back = test::must(o.file->sourceFile(key));
    QVERIFY(std::string(reinterpret_cast<const char*>(back.data()), back.size()) == bytes);
    QVERIFY(test::must(o.file->sourceFile(none)).empty());
    test::must(o.file->close());
    auto d = test::must(Database::open(at("parts.hseam"), Database::Mode::readWrite));
    QCOMPARE(test::must(d.number("SELECT count(*) FROM source_part")), 26);
    // A part that is lost is noticed.
    test::must(d.execute("DELETE FROM source_part WHERE at = 5000"));
    QCOMPARE(test::must(ProjectFile::openToRead(at("parts.hseam"), ownMemory(), test::here())).file->sourceFile(key).error().code,
             base::Code::corrupt);
  }
  void whatCannotBeBoundIsAnError() {
    auto d = test::must(Database::open(at("bind.db"), Database::Mode::create));
    test::must(d.execute("CREATE TABLE t (a BLOB)"));
    auto s = test::must(d.prepare("INSERT INTO t VALUES (?)"));
    // More than a row takes; it is never touched, so that it needs no memory.
    const std::size_t large = std::size_t(3) << 30;
    void* const room = mmap(nullptr, large, PROT_READ, MAP_PRIVATE | MAP_ANONYMOUS | MAP_NORESERVE, -1, 0);
    QVERIFY(room != MAP_FAILED);
    QCOMPARE(s.bind(1, std::span(static_cast<const std::byte*>(room), large)).run().error().code, base::Code::limitExceeded);
    munmap(room, large);
    QVERIFY(!s.bind(7, std::int64_t(1)).run().ok());  // there is no such place
    test::must(s.bind(1, std::int64_t(1)).run());     // the next use begins anew
    QCOMPARE(test::must(d.number("SELECT count(*) FROM t")), 1);
  }
  void idsAreNeverUsedTwice() {
    auto o = painted("ids.hseam", 0);
    const auto add = [&] {
      const scene::LayerId id = scene::freeId(o.history.scene());
      keep(o, scene::AddLayer{test::pictureLayer(id.value, test::colours(30, 20, 1)), {}, -1});
      return id.value;
    };
    QCOMPARE(add(), std::uint64_t(2));
    keep(o, scene::RemoveLayer{{2}});
    QCOMPARE(add(), std::uint64_t(3));
    // What was taken back stays used up, also when the project is opened again.
    test::must(o.history.goTo(1));
    QCOMPARE(scene::freeId(o.history.scene()).value, std::uint64_t(4));
    test::must(o.file->setCurrent(0));
    test::must(o.file->close());
    auto again = opened("ids.hseam");
    QCOMPARE(again.history.scene().layers.size(), std::size_t(1));
    QCOMPARE(scene::freeId(again.history.scene()).value, std::uint64_t(4));
  }
  void stepsAreReadWhenAskedForAndShareTheirTiles() {
    { painted("lazy.hseam", 30); }
    const auto memory = ownMemory();
    auto o = test::must(ProjectFile::open(at("lazy.hseam"), memory, test::here()));
    QCOMPARE(memory->residentBytes(), std::size_t(0));
    std::set<const image::Tile*> tiles;
    std::vector<scene::Scene> all;
    for (int i = 0; i < o.history.count(); ++i) {
      all.push_back(test::must(o.history.sceneOf(i)));
      const auto& mask = all.back().layers[0]->mask.coverage;
      QCOMPARE(all.back().layers[0]->picture()->source.stamp(), all.front().layers[0]->picture()->source.stamp());
      if (mask.isNull()) continue;
      for (int row = 0; row < mask.level(0).rows; ++row) {
        for (int column = 0; column < mask.level(0).columns; ++column) tiles.insert(mask.level(0).tile(column, row).get());
      }
    }
    // 30 masks of 20 tiles; a stroke changes at most four.
    QVERIFY2(tiles.size() <= 30 * 4 + 20, qPrintable(QString::number(tiles.size())));
    const auto& a = all[14].layers[0]->mask.coverage;
    const auto& b = all[15].layers[0]->mask.coverage;
    const base::Rect change = image::differenceOf(a, b);
    QVERIFY2(!change.empty() && change.width <= 512 && change.height <= 512, "strokes differ by their tiles alone");
    // Undo of what was read gives the very same layers, so that nothing is written twice.
    test::must(o.history.goTo(10));
    const std::int64_t before = test::must(o.file->contents()).itemBytes;
    keep(o, scene::SetOpacity{{1}, 0.5});
    QVERIFY(test::must(o.file->contents()).itemBytes - before < 3000);
  }
};
HSEAM_TEST(VersionsTest);
#include "versions_test.moc"
