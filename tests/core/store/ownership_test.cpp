// Who may write a project, and what happens where one file takes another's place.

#include <sys/wait.h>
#include <unistd.h>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTemporaryDir>

#include "../render/scenes.h"
#include "core/store/slim.h"

using namespace hseam;
using namespace hseam::store;

namespace {

scene::Scene onePicture() {
  scene::Scene s;
  s.canvas = {300, 200};
  s.layers = {test::ref(test::pictureLayer(1, test::colours(300, 200, 1)))};
  return s;
}

// Does `work` in another process, which ends without any clean-up afterwards; its answer.
bool inAnotherProcess(const std::function<bool()>& work) {
  const pid_t child = fork();
  if (child == 0) _exit(work() ? 0 : 1);
  int status = 0;
  return child > 0 && waitpid(child, &status, 0) == child && WIFEXITED(status) && WEXITSTATUS(status) == 0;
}

}  // namespace

class OwnershipTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  std::string at(const char* name) const { return dir_.filePath(QLatin1String(name)).toStdString(); }
  ProjectFile::Opened fresh(const char* name) const {
    return test::must(ProjectFile::create(at(name), onePicture(), "begin", test::memory(), test::here()));
  }
  ProjectFile::Opened opened(const char* name) const {
    return test::must(ProjectFile::open(at(name), image::TileMemory::create(std::size_t(1) << 28), test::here()));
  }
  static void setOpacity(ProjectFile::Opened& o, double opacity) {
    const scene::Edit e = scene::SetOpacity{{1}, opacity};
    scene::Step step{test::must(scene::apply(o.history.scene(), e)), scene::describe(o.history.scene(), e)};
    test::must(o.file->keep(step, scene::editKind(e), o.history.current()));
    o.history.push(std::move(step));
  }
  static double opacityIn(const ProjectFile::Opened& o) { return o.history.scene().layers[0]->opacity; }
  // As a killed program leaves it: the file and its log.
  void leaveBehind(const char* from, const char* to) const {
    for (const char* ending : {"", "-wal", "-shm"}) {
      const QString target = dir_.filePath(QLatin1String(to) + QLatin1String(ending));
      QFile::remove(target);
      QFile::copy(dir_.filePath(QLatin1String(from) + QLatin1String(ending)), target);
    }
  }

 private slots:
  void oneWriterAtATime() {
    auto first = fresh("one.hseam");
    const auto second = ProjectFile::open(at("one.hseam"), test::memory(), test::here());
    QCOMPARE(second.error().code, base::Code::conflict);
    QVERIFY2(QString::fromStdString(second.error().detail).contains(QString::number(getpid())), second.error().text().c_str());
    QVERIFY(inAnotherProcess(
        [&] { return ProjectFile::open(at("one.hseam"), test::memory(), test::here()).error().code == base::Code::conflict; }));
    // Another name for the same file is the same file.
    QVERIFY(QFile::link(dir_.filePath(QStringLiteral("one.hseam")), dir_.filePath(QStringLiteral("alias.hseam"))));
    QCOMPARE(ProjectFile::open(at("alias.hseam"), test::memory(), test::here()).error().code, base::Code::conflict);
    // Looking is always possible, and sees what is kept.
    setOpacity(first, 0.25);
    {
      const auto look = test::must(ProjectFile::openToRead(at("one.hseam"), test::memory(), test::here()));
      QCOMPARE(opacityIn(look), 0.25);
      QCOMPARE(look.file->keep({look.history.scene(), "x"}, "SetName", 1).error().code, base::Code::unwritable);
    }
    // Nobody's steps were dropped by the attempts.
    setOpacity(first, 0.5);
    test::must(first.file->close());
    QVERIFY(!QFileInfo::exists(dir_.filePath(QStringLiteral("one.hseam-lock"))));
    QCOMPARE(opened("one.hseam").history.count(), 3);
  }
  void aDeadProgramsLockIsTakenOver() {
    {
      auto made = fresh("dead.hseam");
      setOpacity(made, 0.75);
    }
    QVERIFY(inAnotherProcess([&] {
      const auto mine = ProjectFile::open(at("dead.hseam"), test::memory(), test::here());
      return mine.ok() && (_exit(0), true);  // ends while it holds it
    }));
    QVERIFY(QFileInfo::exists(dir_.filePath(QStringLiteral("dead.hseam-lock"))));
    QVERIFY(!ProjectLock::isHeld(at("dead.hseam")));
    const auto again = opened("dead.hseam");
    QVERIFY(again.wasUnclean);
    QCOMPARE(opacityIn(again), 0.75);
    QVERIFY(ProjectLock::isHeld(at("dead.hseam")));
  }
  void aLeftLogIsNotReadIntoWhatTakesItsPlace_data() {
    QTest::addColumn<int>("way");
    QTest::newRow("copy") << 0;
    QTest::newRow("slim") << 1;
    QTest::newRow("move") << 2;
  }
  void aLeftLogIsNotReadIntoWhatTakesItsPlace() {
    QFETCH(int, way);
    {
      // Many steps in the log, none of them in the file yet.
      auto crashed = fresh("crashed.hseam");
      for (int i = 0; i < 40; ++i) setOpacity(crashed, 0.01 * (i + 1));
      leaveBehind("crashed.hseam", "target.hseam");
      test::must(crashed.file->close());
      QFile::remove(dir_.filePath(QStringLiteral("crashed.hseam")));
    }
    QVERIFY(QFileInfo(dir_.filePath(QStringLiteral("target.hseam-wal"))).size() > 0);
    auto mine = fresh("mine.hseam");
    setOpacity(mine, 0.9);
    if (way == 0) test::must(mine.file->copyTo(at("target.hseam")));
    if (way == 1) test::must(slimTo(*mine.file, mine.history.scene(), at("target.hseam")));
    if (way == 2) test::must(mine.file->moveTo(at("target.hseam"), ProjectFile::Old::goes));
    mine.file.reset();
    QVERIFY(!QFileInfo::exists(dir_.filePath(QStringLiteral("target.hseam-wal"))));
    QCOMPARE(opacityIn(opened("target.hseam")), 0.9);
    QFile::remove(dir_.filePath(QStringLiteral("mine.hseam")));
    QFile::remove(dir_.filePath(QStringLiteral("target.hseam")));
  }
  void anOpenProjectIsNeverReplaced() {
    auto mine = fresh("self.hseam"), other = fresh("other.hseam");
    setOpacity(mine, 0.3);
    for (const char* target : {"self.hseam", "other.hseam"}) {
      QCOMPARE(mine.file->copyTo(at(target)).error().code, base::Code::conflict);
      QCOMPARE(mine.file->moveTo(at(target), ProjectFile::Old::stays).error().code, base::Code::conflict);
      QCOMPARE(slimTo(*mine.file, mine.history.scene(), at(target)).error().code, base::Code::conflict);
    }
    QCOMPARE(archiveTo(*mine.file, at("self.hseam"), {}).error().code, base::Code::conflict);
    setOpacity(mine, 0.4);
    setOpacity(other, 0.6);
    test::must(mine.file->close());
    test::must(other.file->close());
    QCOMPARE(opacityIn(opened("self.hseam")), 0.4);
    QCOMPARE(opened("other.hseam").history.count(), 2);
    QCOMPARE(QDir(dir_.path()).entryList({QStringLiteral("*.part*")}).size(), 0);
  }
  void aMovedProjectGoesOnInItsNewPlace() {
    const auto tight = image::TileMemory::create(std::size_t(1) << 16);  // tiles must be read back all the time
    auto mine = test::must(ProjectFile::create(at("old.hseam"), onePicture(), "begin", tight, test::here()));
    setOpacity(mine, 0.3);
    const auto pixels = test::rendered(mine.history.scene());
    test::must(mine.file->moveTo(at("new.hseam"), ProjectFile::Old::goes));
    QCOMPARE(mine.file->path(), at("new.hseam"));
    QVERIFY(!QFileInfo::exists(dir_.filePath(QStringLiteral("old.hseam"))));
    QVERIFY(!ProjectLock::isHeld(at("old.hseam")) && ProjectLock::isHeld(at("new.hseam")));
    setOpacity(mine, 0.5);
    QVERIFY(test::rendered(test::must(mine.history.sceneOf(1))).samples() == pixels.samples());
    test::must(mine.file->close());
    auto again = opened("new.hseam");
    QCOMPARE(again.history.count(), 3);
    QCOMPARE(opacityIn(again), 0.5);
    QVERIFY(test::rendered(test::must(again.history.sceneOf(1))).samples() == pixels.samples());
    // What cannot be moved stays, and goes on.
    QCOMPARE(again.file->moveTo("/nowhere/at/all.hseam", ProjectFile::Old::goes).error().code, base::Code::unwritable);
    setOpacity(again, 0.7);
    test::must(again.file->close());
    QCOMPARE(opacityIn(opened("new.hseam")), 0.7);
  }
};
HSEAM_TEST(OwnershipTest);
#include "ownership_test.moc"
