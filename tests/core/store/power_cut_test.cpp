#include <sqlite3.h>

#include <QDir>
#include <QFileInfo>
#include <QTemporaryDir>
#include <cstring>
#include <fstream>
#include <map>
#include <mutex>

#include "../render/scenes.h"
#include "core/store/project_file.h"

using namespace hseam;
using namespace hseam::store;

namespace {

// A disk that forgets: what was written since the last sync is there after a power cut only in part, and in any order. It stands
// between SQLite and the real files, and at the moment of the cut makes files as such a disk would have them.
class ForgetfulDisk {
 public:
  struct Change {
    sqlite3_int64 at;  // < 0: cut off at `size`
    std::string bytes;
    sqlite3_int64 size = 0;
  };
  struct Kept {
    std::string synced;
    std::vector<Change> unsynced;
  };

  static ForgetfulDisk& it() {
    static ForgetfulDisk disk;
    return disk;
  }
  // cutAt: the write at which the power goes; a picture of the disk is taken just before it.
  void begin(long cutAt, std::uint64_t seed) {
    const std::lock_guard lock(mutex_);
    files_.clear();
    cut_.clear();
    writes_ = 0;
    cutAt_ = cutAt;
    seed_ = seed;
  }
  bool isCut() const { return !cut_.empty(); }
  long writes() const { return writes_; }
  const std::map<std::string, std::string>& afterTheCut() const { return cut_; }

  void write(const std::string& path, sqlite3_int64 at, const void* bytes, int count) {
    const std::lock_guard lock(mutex_);
    if (++writes_ == cutAt_) cutNow();
    files_[path].unsynced.push_back({at, std::string(static_cast<const char*>(bytes), std::size_t(count)), 0});
  }
  void truncate(const std::string& path, sqlite3_int64 size) {
    const std::lock_guard lock(mutex_);
    files_[path].unsynced.push_back({-1, {}, size});
  }
  void sync(const std::string& path) {
    const std::lock_guard lock(mutex_);
    Kept& k = files_[path];
    for (const Change& c : k.unsynced) apply(k.synced, c);
    k.unsynced.clear();
  }
  void remove(const std::string& path) {
    const std::lock_guard lock(mutex_);
    files_.erase(path);
  }

 private:
  static void apply(std::string& file, const Change& c) {
    if (c.at < 0) {
      file.resize(std::size_t(c.size));
      return;
    }
    const auto end = std::size_t(c.at) + c.bytes.size();
    if (file.size() < end) file.resize(end);
    file.replace(std::size_t(c.at), c.bytes.size(), c.bytes);
  }
  void cutNow() {
    test::Noise noise(seed_);
    for (const auto& [path, kept] : files_) {
      std::string file = kept.synced;
      std::vector<Change> some;
      for (const Change& c : kept.unsynced) {
        if (noise.below(2)) some.insert(some.begin() + noise.below(int(some.size()) + 1), c);
      }
      for (const Change& c : some) apply(file, c);
      cut_[path] = file;
    }
  }
  std::mutex mutex_;
  std::map<std::string, Kept> files_;
  std::map<std::string, std::string> cut_;
  long writes_ = 0, cutAt_ = -1;
  std::uint64_t seed_ = 0;
};

// ------------------------------------------------------------------ the way between (sqlite.org/vfs.html)

struct Between {
  sqlite3_file base;
  std::string* path;
  sqlite3_file* real;
};
sqlite3_vfs* below = nullptr;

Between& of(sqlite3_file* f) {
  return *reinterpret_cast<Between*>(f);
}

sqlite3_io_methods methods() {
  sqlite3_io_methods m{};
  m.iVersion = 3;
  m.xClose = [](sqlite3_file* f) {
    const int done = of(f).real->pMethods->xClose(of(f).real);
    delete of(f).path;
    sqlite3_free(of(f).real);
    return done;
  };
  m.xRead = [](sqlite3_file* f, void* to, int n, sqlite3_int64 at) { return of(f).real->pMethods->xRead(of(f).real, to, n, at); };
  m.xWrite = [](sqlite3_file* f, const void* from, int n, sqlite3_int64 at) {
    ForgetfulDisk::it().write(*of(f).path, at, from, n);
    return of(f).real->pMethods->xWrite(of(f).real, from, n, at);
  };
  m.xTruncate = [](sqlite3_file* f, sqlite3_int64 size) {
    ForgetfulDisk::it().truncate(*of(f).path, size);
    return of(f).real->pMethods->xTruncate(of(f).real, size);
  };
  m.xSync = [](sqlite3_file* f, int) {
    ForgetfulDisk::it().sync(*of(f).path);
    return SQLITE_OK;  // the real disk need not be waited for
  };
  m.xFileSize = [](sqlite3_file* f, sqlite3_int64* size) { return of(f).real->pMethods->xFileSize(of(f).real, size); };
  m.xLock = [](sqlite3_file* f, int l) { return of(f).real->pMethods->xLock(of(f).real, l); };
  m.xUnlock = [](sqlite3_file* f, int l) { return of(f).real->pMethods->xUnlock(of(f).real, l); };
  m.xCheckReservedLock = [](sqlite3_file* f, int* out) { return of(f).real->pMethods->xCheckReservedLock(of(f).real, out); };
  m.xFileControl = [](sqlite3_file* f, int op, void* arg) { return of(f).real->pMethods->xFileControl(of(f).real, op, arg); };
  m.xSectorSize = [](sqlite3_file*) { return 4096; };
  m.xDeviceCharacteristics = [](sqlite3_file*) { return 0; };  // nothing is promised
  m.xShmMap = [](sqlite3_file* f, int p, int n, int e, void volatile** out) {
    return of(f).real->pMethods->xShmMap(of(f).real, p, n, e, out);
  };
  m.xShmLock = [](sqlite3_file* f, int o, int n, int flags) { return of(f).real->pMethods->xShmLock(of(f).real, o, n, flags); };
  m.xShmBarrier = [](sqlite3_file* f) { of(f).real->pMethods->xShmBarrier(of(f).real); };
  m.xShmUnmap = [](sqlite3_file* f, int d) { return of(f).real->pMethods->xShmUnmap(of(f).real, d); };
  m.xFetch = [](sqlite3_file*, sqlite3_int64, int, void** out) {
    *out = nullptr;  // no mapping past us
    return SQLITE_OK;
  };
  m.xUnfetch = [](sqlite3_file*, sqlite3_int64, void*) { return SQLITE_OK; };
  return m;
}

sqlite3_vfs* forgetful() {
  static const sqlite3_io_methods kMethods = methods();
  static sqlite3_vfs vfs = [] {
    below = sqlite3_vfs_find(nullptr);
    sqlite3_vfs v = *below;
    v.zName = "forgetful";
    v.szOsFile = int(sizeof(Between));
    v.pNext = nullptr;
    v.xOpen = [](sqlite3_vfs*, const char* name, sqlite3_file* f, int flags, int* out) {
      Between& b = of(f);
      b.base.pMethods = nullptr;
      b.real = static_cast<sqlite3_file*>(sqlite3_malloc(below->szOsFile));
      std::memset(b.real, 0, std::size_t(below->szOsFile));
      const int done = below->xOpen(below, name, b.real, flags, out);
      if (done != SQLITE_OK) {
        sqlite3_free(b.real);
        return done;
      }
      b.path = new std::string(name ? name : "");
      b.base.pMethods = &kMethods;
      return SQLITE_OK;
    };
    v.xDelete = [](sqlite3_vfs*, const char* name, int syncDir) {
      ForgetfulDisk::it().remove(name);
      return below->xDelete(below, name, syncDir);
    };
    return v;
  }();
  return &vfs;
}

}  // namespace

class PowerCutTest : public QObject {
  Q_OBJECT

 private slots:
  void initTestCase() { sqlite3_vfs_register(forgetful(), 1); }
  void cleanupTestCase() {
    sqlite3_vfs_register(below, 1);
    sqlite3_vfs_unregister(forgetful());
  }
  void everyAcknowledgedStepSurvivesAPowerCut() {
    int cuts = 0, stepsThere = 0;
    for (std::uint64_t round = 1; round <= 60; ++round) {
      const QTemporaryDir dir, after;
      const std::string path = dir.filePath(QStringLiteral("work.hseam")).toStdString();
      ForgetfulDisk& disk = ForgetfulDisk::it();
      test::Noise noise(round * 977);
      disk.begin(60 + noise.below(900), round);
      std::vector<image::Raster<float>> looks;  // of every step
      bool whileOpen = false;                   // not in the middle of closing, which may have been told to be clean
      int acknowledged = -1;                    // the last step that was acknowledged before the cut
      {
        scene::Scene s;
        s.canvas = {300, 280};
        s.layers = {test::ref(test::pictureLayer(1, test::colours(300, 280, int(round))))};
        auto opened = test::must(ProjectFile::create(path, s, "new", test::memory(), test::here()));
        looks.push_back(test::rendered(s, 2));
        if (!disk.isCut()) acknowledged = 0;
        for (int step = 0; step < 40 && !disk.isCut(); ++step) {
          const scene::Edit e = noise.below(3)
                                    ? scene::Edit(scene::SetMask{{1}, test::disc(300, 280, 5 + noise.below(90)), "painted"})
                                    : scene::Edit(scene::SetOpacity{{1}, 0.2 + 0.8 * noise.unit()});
          s = test::must(scene::apply(s, e));
          test::must(opened.file->keep({s, "step"}, "Edit", step));
          looks.push_back(test::rendered(s, 2));
          if (!disk.isCut()) acknowledged = step + 1;
        }
        whileOpen = disk.isCut();
      }
      if (!disk.isCut() || acknowledged < 0) continue;  // everything was over, or had not begun
      ++cuts;
      for (const auto& [file, bytes] : disk.afterTheCut()) {
        if (QString::fromStdString(file).endsWith(QStringLiteral("-shm"))) continue;
        std::ofstream out(after.filePath(QFileInfo(QString::fromStdString(file)).fileName()).toStdString(), std::ios::binary);
        out.write(bytes.data(), std::streamsize(bytes.size()));
      }
      disk.begin(-1, 0);
      const auto elsewhere = image::TileMemory::create(std::size_t(1) << 28);
      const auto again = ProjectFile::open(after.filePath(QStringLiteral("work.hseam")).toStdString(), elsewhere, test::here());
      QVERIFY2(again.ok(), again.ok() ? "" : qPrintable(QString::fromStdString(again.error().text())));
      QVERIFY(again->wasUnclean || !whileOpen);
      const int last = again->history.current();
      QVERIFY2(last >= acknowledged, qPrintable(QStringLiteral("round %1: %2 of %3").arg(round).arg(last).arg(acknowledged)));
      QVERIFY(test::rendered(again->history.scene(), 2).samples() == looks[std::size_t(last)].samples());
      stepsThere += acknowledged;
    }
    QVERIFY2(cuts > 30, qPrintable(QString::number(cuts)));
    QVERIFY(stepsThere > 200);
  }
};
HSEAM_TEST(PowerCutTest);
#include "power_cut_test.moc"
