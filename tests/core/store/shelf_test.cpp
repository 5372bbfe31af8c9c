#include "core/store/shelf.h"

#include <QTemporaryDir>
#include <filesystem>
#include <fstream>

#include "as_anyone.h"
#include "test_main.h"

using namespace hseam;
using store::Shelf;
using store::ShelfItem;

class ShelfTest : public QObject {
  Q_OBJECT

  static std::vector<std::byte> bytes(const std::string& text) {
    const auto* p = reinterpret_cast<const std::byte*>(text.data());
    return {p, p + text.size()};
  }
  static ShelfItem pier() {
    ShelfItem i;
    i.name = "pier at \"dusk\"";
    i.width = 300;
    i.height = 200;
    i.horizonY = 71.5;
    i.blurPx = 1.25;
    i.midL = 40;
    i.light = {-2, 14};
    i.lightFromDeg = {40, 30};
    i.permission = scene::Permission{"nobody", "", "", false, true};
    return i;
  }
  static std::string textOf(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
  }

 private slots:
  void itemsComeBackAsTheyWere() {
    QTemporaryDir dir;
    const Shelf shelf(dir.filePath("shelf").toStdString());
    QVERIFY(shelf.list().items.empty() && shelf.list().problems.empty());
    const ShelfItem put = test::must(shelf.put(bytes("picture one"), "jpg", pier()));
    QCOMPARE(textOf(put.file), std::string("picture one"));
    ShelfItem sky;
    sky.name = "a sky";
    sky.kind = store::ShelfKind::sky;
    sky.width = sky.height = 10;
    test::must(shelf.put(bytes("picture two"), "png", sky));
    // In another program's life.
    const auto again = Shelf(shelf.folder()).list();
    QCOMPARE(again.items.size(), std::size_t(2));
    QVERIFY(again.items[0].name == "a sky" && again.items[1] == put);
    ShelfItem changed = put;
    changed.horizonY.reset();
    changed.name = "pier";
    test::must(shelf.change(changed));
    QVERIFY(shelf.list().items[1] == changed);
    // The same bytes are the same item.
    test::must(shelf.put(bytes("picture one"), "jpg", pier()));
    QCOMPARE(shelf.list().items.size(), std::size_t(2));
    test::must(shelf.takeOff(put.id));
    QVERIFY(shelf.list().items.size() == 1 && !std::filesystem::exists(put.file));
    QCOMPARE(shelf.takeOff(put.id).error().code, base::Code::notFound);
    QCOMPARE(shelf.change(put).error().code, base::Code::notFound);
  }
  void whatIsNoItemIsToldAndLeft() {
    QTemporaryDir dir;
    const Shelf shelf(dir.path().toStdString());
    const ShelfItem good = test::must(shelf.put(bytes("x"), "png", pier()));
    const auto write = [&](const char* name, const std::string& text) {
      std::ofstream(dir.filePath(QLatin1String(name)).toStdString()) << text;
    };
    write("a.json", "");
    write("b.json", R"({"file": "../../secret", "name": "n", "width": 1, "height": 1})");
    write("c.json", R"({"file": "gone.png", "name": "n", "width": 1, "height": 1})");
    const std::string own = std::filesystem::path(good.file).filename().string();
    write("d.json", R"({"file": ")" + own + R"(", "name": "n", "width": 1e300, "height": 1})");
    write("e.json", R"({"file": ")" + own + R"(", "name": "n", "width": 1, "height": 1, "kind": "smell"})");
    write("f.json", R"({"file": ")" + own + R"(", "name": "n", "width": 1, "height": 1, "permission": {"until": "2027-02-31"}})");
    write("g.json", std::string(2'000'000, ' '));
    const auto listed = shelf.list();
    QCOMPARE(listed.items.size(), std::size_t(1));
    QCOMPARE(listed.problems.size(), std::size_t(7));
    QVERIFY(std::filesystem::exists(dir.filePath("a.json").toStdString()));
    // What lies elsewhere is never taken away.
    QVERIFY(!shelf.takeOff("b").ok());
  }
  void whatCannotBePutThereIsSaid() {
    QTemporaryDir dir;
    const Shelf shelf(dir.path().toStdString());
    QCOMPARE(shelf.put(bytes("x"), "png", {}).error().code, base::Code::invalid);
    for (const char* ending : {"", "json", "a/b", "png.exe", ".."})
      QCOMPARE(shelf.put(bytes("x"), ending, pier()).error().code, base::Code::invalid);
    const test::AsAnyone notRoot;
    QFile::setPermissions(dir.path(), QFile::ReadOwner | QFile::ExeOwner);
    QCOMPARE(shelf.put(bytes("x"), "png", pier()).error().code, base::Code::unwritable);
    QFile::setPermissions(dir.path(), QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
  }
};

HSEAM_TEST(ShelfTest);
#include "shelf_test.moc"
