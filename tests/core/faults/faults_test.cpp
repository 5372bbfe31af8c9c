// The Nth allocation of a tile's size and the Nth operation on a file fail, for every N of a save, an open and an export: each
// time a clear error or a whole result, and what was there before is there after.

#include "every_fault.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <map>

#include "../render/scenes.h"
#include "core/deliver/export.h"
#include "core/deliver/layered.h"
#include "core/deliver/merged.h"
#include "core/store/scene_description.h"
#include "core/store/slim.h"

using namespace hseam;
using test::faults::Kind;
using namespace hseam::test;

class FaultsTest : public test::EveryFault {
  Q_OBJECT

 private slots:
  void init() { empty(); }

  void exportsLeaveTheOldFile_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<int>("kind");
    for (const char* ending : {"png", "jpg", "tif", "webp", "exr", "ora"}) {
      for (const auto& [kind, words] :
           {std::pair(Kind::memory, "memory"), std::pair(Kind::fileOnce, "once"), std::pair(Kind::fileOn, "full")})
        QTest::addRow("%s, %s", ending, words) << QStringLiteral("a.") + QLatin1String(ending) << int(kind);
    }
  }
  void exportsLeaveTheOldFile() {
    QFETCH(QString, name);
    QFETCH(int, kind);
    const scene::Scene s = smallScene();
    const std::string path = in(name).toStdString();
    const auto write = [&]() -> base::Status {
      if (name.endsWith(QStringLiteral(".ora"))) {
        const auto done = deliver::exportLayered(s, path, test::here(), {});
        return done.ok() ? base::Status() : base::Status(done.error());
      }
      deliver::ExportOptions o;
      o.kind = *image::fileKindOf(path);
      return deliver::exportScene(s, path, o, test::here(), {});
    };
    test::must(write());
    const auto pixels = [&]() -> std::vector<float> {
      const auto memory = image::TileMemory::create(std::size_t(1) << 28);
      if (name.endsWith(QStringLiteral(".ora")))
        return test::rendered(test::must(store::readOpenRaster(path, memory, test::here(), {})).scene).samples();
      const auto read = test::must(image::readPicture(path, memory, test::here(), {}));
      return test::must(image::readFloat(read.pixels, 0, base::Rect::of(read.pixels.size()))).samples();
    };
    const auto whole = pixels();
    const long faults = everyFault(
        Kind(kind),
        [&] {
          QFile f(in(name));
          QVERIFY(f.open(QIODevice::WriteOnly | QIODevice::Truncate) && f.write("the old file") == 12);
        },
        write,
        [&](bool failed) {
          QVERIFY(failed ? bytesOf(in(name)) == "the old file" : pixels() == whole);
          QCOMPARE(QDir(dir_.path()).entryList(QDir::Files | QDir::Hidden), QStringList{name});  // nothing half done lies about
        });
    QVERIFY2(faults >= (Kind(kind) == Kind::memory ? 1 : 4), qPrintable(QString::number(faults)));
    qInfo("%ld faults", faults);
  }

  void picturesAreReadWholeOrNot_data() { kinds(); }
  void picturesAreReadWholeOrNot() {
    QFETCH(int, kind);
    const scene::Scene s = smallScene();
    for (const char* ending : {"png", "jpg", "tif", "webp", "exr", "ora"}) {
      const std::string path = in(QStringLiteral("r.") + QLatin1String(ending)).toStdString();
      const bool layered = path.ends_with(".ora");
      if (layered) {
        QVERIFY(deliver::exportLayered(s, path, test::here(), {}).ok());
      } else {
        deliver::ExportOptions o;
        o.kind = *image::fileKindOf(path);
        test::must(deliver::exportScene(s, path, o, test::here(), {}));
      }
      bool warned = false;
      const auto memory = image::TileMemory::create(std::size_t(1) << 28);
      everyFault(
          Kind(kind), [] {},
          [&]() -> base::Status {
            if (layered) {
              const auto read = store::readOpenRaster(path, memory, test::here(), {});
              warned = read.ok() && !read->warnings.empty();
              return read.ok() ? base::Status() : base::Status(read.error());
            }
            const auto read = image::readPicture(path, memory, test::here(), {});
            warned = read.ok() && !read->warnings.empty();
            if (read.ok() && read->pixels.size() != base::Size{300, 60}) qFatal("a part of a picture without an error");
            return read.ok() ? base::Status() : base::Status(read.error());
          },
          [&](bool) {});
      QVERIFY(!warned);  // the last time, without a fault, all is well
    }
  }

  void aNewProjectIsWholeOrNotThere_data() { kinds(); }
  void aNewProjectIsWholeOrNotThere() {
    QFETCH(int, kind);
    scene::Scene s;
    const long faults = everyFault(
        Kind(kind),
        [&] {
          init();
          s = smallScene();
        },
        [&]() -> base::Status {
          const auto made = store::ProjectFile::create(in(QStringLiteral("n.hseam")).toStdString(), s, "begin",
                                                       s.layers[0]->picture()->source.memory(), test::here());
          return made.ok() ? base::Status() : base::Status(made.error());
        },
        [&](bool failed) {
          if (failed) {
            QVERIFY2(!QFile::exists(in(QStringLiteral("n.hseam"))), "a half made project is left");
            return;
          }
          auto opened = store::ProjectFile::open(in(QStringLiteral("n.hseam")).toStdString(),
                                                 image::TileMemory::create(std::size_t(1) << 28), test::here());
          QVERIFY(opened.ok());
          QVERIFY(test::rendered(opened->history.scene()).samples() == test::rendered(smallScene()).samples());
        });
    QVERIFY2(faults >= 3, qPrintable(QString::number(faults)));
    qInfo("%ld faults", faults);
  }

  void stepsAreKeptOrNot_data() { kinds(); }
  void stepsAreKeptOrNot() {
    QFETCH(int, kind);
    const std::string path = in(QStringLiteral("k.hseam")).toStdString();
    const scene::Scene begin = smallScene();
    scene::Scene next;
    std::optional<store::ProjectFile::Opened> project;
    const long faults = everyFault(
        Kind(kind),
        [&] {
          project.reset();
          init();
          project = test::must(
              store::ProjectFile::create(path, begin, "begin", image::TileMemory::create(std::size_t(1) << 28), test::here()));
          next = test::must(scene::apply(begin, scene::SetMask{{1}, test::disc(300, 60, 40), "painted"}));
        },
        [&]() -> base::Status {
          return project->file->keep({next, "stroke"}, "SetMask", 0);
        },
        [&](bool failed) {
          // The disk is there again: the same step is kept now, and all of it is in the file.
          if (failed) test::must(project->file->keep({next, "stroke"}, "SetMask", 0));
          project.reset();
          auto again = test::must(store::ProjectFile::open(path, image::TileMemory::create(std::size_t(1) << 28), test::here()));
          QCOMPARE(again.history.current(), 1);
          QVERIFY(test::rendered(again.history.scene()).samples() == test::rendered(next).samples());
        });
    QVERIFY2(faults >= 2, qPrintable(QString::number(faults)));
    qInfo("%ld faults", faults);
  }

  // Every write of a session of many steps fails once, and from there on: what is tried again, the same step in the same place,
  // gets in; what is not leaves a project with all steps before it.
  void aSessionLosesNothingAtAnyWrite_data() { kinds(); }
  void aSessionLosesNothingAtAnyWrite() {
    QFETCH(int, kind);
    const std::string path = in(QStringLiteral("s.hseam")).toStdString();
    constexpr int kSteps = 8;
    std::vector<scene::Scene> scenes{smallScene()};
    for (int i = 1; i <= kSteps; ++i) {
      const scene::Edit edit = i % 3 == 0   ? scene::Edit(scene::SetOpacity{{1}, i / 10.0})
                               : i % 3 == 1 ? scene::Edit(scene::SetMask{{1}, test::disc(300, 60, 20 + 5 * i), "painted"})
                                            : scene::Edit(scene::SetName{{2}, "step " + std::to_string(i)});
      scenes.push_back(test::must(scene::apply(scenes.back(), edit)));
    }
    std::optional<store::ProjectFile::Opened> project;
    int done = 0;
    bool lastGoesOn = false;
    const auto keep = [&](int step) { return project->file->keep({scenes[std::size_t(step)], "x"}, "SetName", step - 1); };
    const long faults = everyFault(
        Kind(kind),
        [&] {
          project.reset();
          init();
          project = test::must(store::ProjectFile::create(path, scenes[0], "begin",
                                                          image::TileMemory::create(std::size_t(1) << 28), test::here()));
          done = 0;
          lastGoesOn = !lastGoesOn;
        },
        [&]() -> base::Status {
          for (int step = 1; step <= kSteps; ++step) {
            HSEAM_DO(keep(step));
            done = step;
          }
          return {};
        },
        [&](bool failed) {
          if (failed && lastGoesOn) {
            // Nothing later gets in before it.
            if (done + 2 <= kSteps) QCOMPARE(keep(done + 2).error().code, base::Code::conflict);
            for (int step = done + 1; step <= kSteps; ++step) test::must(keep(step));
            done = kSteps;
          }
          project.reset();
          const auto again =
              test::must(store::ProjectFile::open(path, image::TileMemory::create(std::size_t(1) << 28), test::here()));
          QVERIFY(again.missingSteps.empty());
          // What was acknowledged is there; of the one that failed nobody was told.
          QVERIFY(again.history.current() == done || (failed && again.history.current() == done + 1));
          QCOMPARE(again.history.count(), again.history.current() + 1);
          QVERIFY(test::rendered(again.history.scene()).samples() ==
                  test::rendered(scenes[std::size_t(again.history.current())]).samples());
        });
    QVERIFY2(faults >= 4, qPrintable(QString::number(faults)));
    qInfo("%ld faults", faults);
  }

  // All other doors of store, image and deliver: a whole result, or an error with words, whatever fails.
  void everyDoorAnswers_data() {
    QTest::addColumn<QString>("door");
    QTest::addColumn<int>("kind");
    for (const char* door :
         {"key of a source", "keep a source", "read a source", "contents", "slim report", "move", "look", "undo", "read a mask",
          "read metadata", "write metadata", "write a picture", "read a description", "weight", "merged", "lock"}) {
      for (const auto& [kind, words] :
           {std::pair(Kind::memory, "memory"), std::pair(Kind::fileOnce, "once"), std::pair(Kind::fileOn, "full")})
        QTest::addRow("%s, %s", door, words) << QString::fromLatin1(door) << int(kind);
    }
  }
  void everyDoorAnswers() {
    QFETCH(QString, door);
    QFETCH(int, kind);
    const std::string project = in(QStringLiteral("d.hseam")).toStdString(), photo = in(QStringLiteral("p.png")).toStdString(),
                      large = in(QStringLiteral("large.bin")).toStdString();
    std::optional<store::ProjectFile::Opened> open;
    std::string key;
    const scene::Scene small = smallScene();
    const image::TiledImage picture = test::colours(300, 200, 3);
    const auto memory = image::TileMemory::create(std::size_t(1) << 28);
    const auto asStatus = [](const auto& result) { return result.ok() ? base::Status() : base::Status(result.error()); };
    const std::map<QString, std::function<base::Status()>> doors{
        {QStringLiteral("key of a source"), [&] { return asStatus(store::sourceKeyOf(large)); }},
        {QStringLiteral("keep a source"), [&] { return asStatus(open->file->addSourceFile(large, 100'000)); }},
        {QStringLiteral("read a source"), [&] { return asStatus(open->file->sourceFile(key)); }},
        {QStringLiteral("contents"), [&] { return asStatus(open->file->contents()); }},
        {QStringLiteral("slim report"), [&] { return asStatus(store::slimReport(*open->file, open->history.scene())); }},
        {QStringLiteral("move"),
         [&] { return open->file->moveTo(in(QStringLiteral("moved.hseam")).toStdString(), store::ProjectFile::Old::stays); }},
        {QStringLiteral("look"), [&] { return asStatus(store::ProjectFile::openToRead(project, memory, test::here())); }},
        {QStringLiteral("undo"), [&] { return open->file->setCurrent(0); }},
        {QStringLiteral("read a mask"), [&] { return asStatus(image::readCoverage(photo, memory, test::here())); }},
        {QStringLiteral("read metadata"), [&] { return asStatus(image::readMetadata(photo)); }},
        {QStringLiteral("write metadata"),
         [&] {
           image::Metadata m;
           m.title = "dusk";
           return image::writeMetadata(photo, m);
         }},
        {QStringLiteral("write a picture"), [&] { return image::writeTiled(photo, picture); }},
        {QStringLiteral("read a description"),
         [&] { return asStatus(store::readDescription(in(QStringLiteral("s.json")).toStdString(), memory, test::here(), {})); }},
        {QStringLiteral("weight"), [&] { return asStatus(deliver::exportWeight(small, {}, test::here(), {})); }},
        {QStringLiteral("merged"),
         [&] {
           return asStatus(deliver::merged(small, {0, 0, 300, 60}, memory, test::here(), {}));
         }},
        {QStringLiteral("lock"), [&] { return asStatus(store::ProjectLock::take(in(QStringLiteral("l.hseam")).toStdString())); }},
    };
    qputenv("TMPDIR", dir_.path().toUtf8());  // where the weight is tried
    everyFault(
        Kind(kind),
        [&] {
          open.reset();
          init();
          test::must(image::writeTiled(photo, picture));
          QFile big(in(QStringLiteral("large.bin")));
          QVERIFY(big.open(QIODevice::WriteOnly) && big.write(QByteArray(400'000, 'x')) == 400'000);
          QFile description(in(QStringLiteral("s.json")));
          QVERIFY(description.open(QIODevice::WriteOnly) &&
                  description.write(R"({"canvas":{"width":300,"height":200},"layers":[{"image":"p.png"}]})") > 0);
          big.close(), description.close();
          open = test::must(store::ProjectFile::create(project, small, "begin", memory, test::here()));
          if (door == QStringLiteral("read a source")) key = test::must(open->file->addSourceFile(large));
        },
        doors.at(door),
        [&](bool failed) {
          // The project that is open goes on, wherever it is now.
          if (failed) test::must(open->file->keep({open->history.scene(), "after"}, "SetName", 0));
        });
    qunsetenv("TMPDIR");
  }
};
HSEAM_TEST(FaultsTest);
#include "faults_test.moc"
