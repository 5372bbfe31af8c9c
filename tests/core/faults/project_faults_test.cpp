// The same faults while projects are opened, copied and found again.

#include <map>
#include "core/deliver/export.h"
#include "core/deliver/layered.h"
#include "core/deliver/merged.h"
#include "core/store/scene_description.h"
#include "core/store/slim.h"
#include "every_fault.h"

using namespace hseam;
using test::faults::Kind;
using namespace hseam::test;

class ProjectFaultsTest : public test::EveryFault {
  Q_OBJECT

 private slots:
  void init() { empty(); }

  void projectsOpenOrSayWhyNot_data() { kinds(); }
  void projectsOpenOrSayWhyNot() {
    QFETCH(int, kind);
    const std::string path = in(QStringLiteral("o.hseam")).toStdString();
    const scene::Scene s = smallScene();
    test::must(test::must(store::ProjectFile::create(path, s, "begin", test::memory(), test::here())).file->close());
    const auto truth = test::rendered(s);
    everyFault(
        Kind(kind), [] {},
        [&]() -> base::Status {
          HSEAM_TRY(const auto opened,
                    store::ProjectFile::open(path, image::TileMemory::create(std::size_t(1) << 28), test::here()));
          render::Renderer renderer;
          HSEAM_TRY(const auto pixels, renderer.render(opened.history.scene(), {0, 0, 300, 60}, 0, test::here()));
          if (pixels.samples() != truth.samples()) qFatal("wrong pixels without an error");
          return {};
        },
        [&](bool) {});
    const auto last = test::must(store::ProjectFile::open(path, image::TileMemory::create(std::size_t(1) << 28), test::here()));
    QVERIFY(test::rendered(last.history.scene()).samples() == truth.samples());
  }

  void copiesReplaceOnlyWhenWhole_data() {
    QTest::addColumn<int>("way");
    QTest::addColumn<int>("kind");
    const char* ways[] = {"copy", "slim", "archive"};
    for (int way = 0; way < 3; ++way) {
      for (const auto& [kind, words] :
           {std::pair(Kind::memory, "memory"), std::pair(Kind::fileOnce, "once"), std::pair(Kind::fileOn, "full")})
        QTest::addRow("%s, %s", ways[way], words) << way << int(kind);
    }
  }
  void copiesReplaceOnlyWhenWhole() {
    QFETCH(int, way);
    QFETCH(int, kind);
    // The project lies elsewhere: only the copy's disk fails.
    const QTemporaryDir elsewhere;
    const scene::Scene s = smallScene();
    auto project = test::must(store::ProjectFile::create(elsewhere.filePath(QStringLiteral("p.hseam")).toStdString(), s, "begin",
                                                         image::TileMemory::create(std::size_t(1) << 28), test::here()));
    const QString name = QStringLiteral("copy");
    const std::string path = in(name).toStdString();
    everyFault(
        Kind(kind),
        [&] {
          QFile f(in(name));
          QVERIFY(f.open(QIODevice::WriteOnly | QIODevice::Truncate) && f.write("the old file") == 12);
        },
        [&]() -> base::Status {
          if (way == 0) return project.file->copyTo(path);
          return way == 1 ? store::slimTo(*project.file, s, path) : store::archiveTo(*project.file, path, {});
        },
        [&](bool failed) {
          QCOMPARE(bytesOf(in(name)) == "the old file", failed);
          const QStringList there = QDir(dir_.path()).entryList(QDir::Files | QDir::Hidden);
          QVERIFY2(there == QStringList{name}, qPrintable(there.join(QLatin1Char(' '))));
          if (failed || way == 2) return;
          const auto copy =
              test::must(store::ProjectFile::openToRead(path, image::TileMemory::create(std::size_t(1) << 28), test::here()));
          QVERIFY(test::rendered(copy.history.scene()).samples() == test::rendered(s).samples());
        });
    QVERIFY(test::rendered(project.history.scene()).samples() == test::rendered(s).samples());
  }

  // What a killed program left: a project whose steps are in its log. They are there until they are in the file or the project is
  // replaced, whatever fails while they are brought in.
  void aLeftLogLosesNothing_data() {
    QTest::addColumn<bool>("replaced");
    QTest::addColumn<int>("kind");
    for (const bool replaced : {false, true}) {
      for (const auto& [kind, words] : {std::pair(Kind::fileOnce, "once"), std::pair(Kind::fileOn, "full")})
        QTest::addRow("%s, %s", replaced ? "replaced" : "opened", words) << replaced << int(kind);
    }
  }
  void aLeftLogLosesNothing() {
    QFETCH(bool, replaced);
    QFETCH(int, kind);
    const QTemporaryDir elsewhere;
    const auto away = [&](const char* name) { return elsewhere.filePath(QString::fromLatin1(name)); };
    const auto memory = image::TileMemory::create(std::size_t(1) << 28);
    constexpr int kSteps = 12;
    scene::Scene last = smallScene();
    {
      auto crashed = test::must(store::ProjectFile::create(away("crashed").toStdString(), last, "begin", memory, test::here()));
      for (int i = 1; i <= kSteps; ++i) {
        last = test::must(scene::apply(last, scene::SetOpacity{{1}, i / 20.0}));
        test::must(crashed.file->keep({last, "step"}, "SetOpacity", i - 1));
      }
      for (const char* ending : {"", "-wal"})
        QVERIFY(QFile::copy(away("crashed") + QLatin1String(ending), away("left") + QLatin1String(ending)));
      QVERIFY(QFileInfo(away("left-wal")).size() > 0);
    }
    const scene::Scene other = test::must(scene::apply(smallScene(), scene::SetOpacity{{1}, 0.95}));
    auto mine = test::must(store::ProjectFile::create(away("mine").toStdString(), other, "begin", memory, test::here()));
    const QString target = in(QStringLiteral("target.hseam"));
    const long faults = everyFault(
        Kind(kind),
        [&] {
          init();
          for (const char* ending : {"", "-wal"})
            QVERIFY(QFile::copy(away("left") + QLatin1String(ending), target + QLatin1String(ending)));
        },
        [&]() -> base::Status {
          if (replaced) return mine.file->copyTo(target.toStdString());
          const auto opened = store::ProjectFile::open(target.toStdString(), memory, test::here());
          return opened.ok() ? base::Status() : base::Status(opened.error());
        },
        [&](bool failed) {
          const auto there = store::ProjectFile::open(target.toStdString(), memory, test::here());
          QVERIFY2(there.ok(), there.ok() ? "" : there.error().text().c_str());
          const bool old = failed || !replaced;
          QCOMPARE(there->history.current(), old ? kSteps : 0);
          QCOMPARE(there->history.scene().layers[0]->opacity, old ? kSteps / 20.0 : 0.95);
        });
    QVERIFY2(faults >= 3, qPrintable(QString::number(faults)));
    qInfo("%ld faults", faults);
  }
};

HSEAM_TEST(ProjectFaultsTest);
#include "project_faults_test.moc"
