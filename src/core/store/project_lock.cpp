#include "core/store/project_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <ctime>
#include <filesystem>
#include <utility>

#include "core/store/names.h"
#include "core/store/sqlite.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;

// One name for a file, however it was reached.
std::string lockFileOf(const std::string& path) {
  std::error_code problem;
  const fs::path real = fs::weakly_canonical(path, problem);
  return (problem || real.empty() ? path : real.string()) + "-lock";
}

std::string holderWords() {
  char host[256] = "";
  if (gethostname(host, sizeof host - 1) != 0) host[0] = '\0';
  const std::time_t now = std::time(nullptr);
  std::tm local{};
  char since[32] = "";
  if (localtime_r(&now, &local)) std::strftime(since, sizeof since, "%Y-%m-%d %H:%M", &local);
  return "process " + std::to_string(getpid()) + " on " + host + " since " + since;
}

// What a holder wrote into it; of a file that somebody else may have made.
std::string readHolder(int descriptor) {
  char text[512];
  const ssize_t n = pread(descriptor, text, sizeof text, 0);
  std::string words(text, n > 0 ? std::size_t(n) : 0);
  for (char& c : words) {
    if (static_cast<unsigned char>(c) < 0x20) c = ' ';
  }
  return words.empty() ? "another program" : words;
}

bool isStillThere(int descriptor, const std::string& file) {
  struct stat held {};
  struct stat named {};
  return fstat(descriptor, &held) == 0 && stat(file.c_str(), &named) == 0 && held.st_ino == named.st_ino &&
         held.st_dev == named.st_dev;
}

void syncFolderOf(const std::string& path) {
  const std::string folder = fs::path(path).has_parent_path() ? fs::path(path).parent_path().string() : ".";
  const int d = open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (d < 0) return;
  fsync(d);
  close(d);
}

// A project that a killed program left keeps its last steps in its log: they go into the file before another takes its place,
// because a log that stays would be read into the new file.
Status settle(const std::string& path) {
  std::error_code problem;
  if (!fs::exists(path + "-wal", problem)) return {};
  if (auto old = Database::open(path, Database::Mode::readWrite); old.ok()) {
    const auto busy = old->number("PRAGMA wal_checkpoint(TRUNCATE)");
    // The log of a project that is whole goes only once its steps are in the file; that of anything else is of no use.
    if (busy.ok() && *busy != 0)
      return Error{Code::conflict, path, "another program reads this project; try again when it has ended"};
    if (!busy.ok() && busy.error().code != Code::corrupt) return busy.error();
  }
  for (const char* ending : {"-wal", "-shm"}) fs::remove(path + ending, problem);
  return {};
}

Status checkPart(const std::string& part) {
  HSEAM_TRY(Database database, Database::open(part, Database::Mode::readOnly));
  HSEAM_TRY(const std::int64_t steps, database.number("SELECT count(*) FROM step"));
  if (steps < 1) return Error{Code::corrupt, part, "what was written is not a whole project"};
  return {};
}

}  // namespace

Result<ProjectLock> ProjectLock::take(const std::string& projectPath) {
  const std::string file = lockFileOf(projectPath);
  // A holder takes its file away when it lets go: a lock on a file that is gone holds nothing, and another try finds the new one.
  for (int attempt = 0; attempt < 100; ++attempt) {
    const int d = open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0666);
    if (d < 0)
      return Error{Code::unwritable, projectPath,
                   std::string("its folder takes no files, so that it can only be looked at: ") + std::strerror(errno)};
    ProjectLock lock(d, file);
    if (flock(d, LOCK_EX | LOCK_NB) != 0) {
      if (errno == EWOULDBLOCK) {
        const std::string who = readHolder(d);
        lock.file_.clear();
        return Error{Code::conflict, projectPath, "is open in another window or program (" + who + ")"};
      }
      return lock;  // no locks here
    }
    if (!isStillThere(d, file)) {
      lock.file_.clear();
      continue;
    }
    const std::string words = holderWords();
    if (ftruncate(d, 0) != 0 || pwrite(d, words.data(), words.size(), 0) != ssize_t(words.size()))
      return lock;  // a lock without a name
    return lock;
  }
  return Error{Code::conflict, projectPath, "is being opened and closed by another program; try again"};
}

bool ProjectLock::isHeld(const std::string& projectPath) {
  const int d = open(lockFileOf(projectPath).c_str(), O_RDONLY | O_CLOEXEC);
  if (d < 0) return false;
  const bool held = flock(d, LOCK_SH | LOCK_NB) != 0 && errno == EWOULDBLOCK;
  close(d);
  return held;
}

ProjectLock::ProjectLock(ProjectLock&& other) noexcept
    : descriptor_(std::exchange(other.descriptor_, -1)), file_(std::exchange(other.file_, {})) {}

ProjectLock& ProjectLock::operator=(ProjectLock&& other) noexcept {
  if (this != &other) {
    release();
    descriptor_ = std::exchange(other.descriptor_, -1);
    file_ = std::exchange(other.file_, {});
  }
  return *this;
}

ProjectLock::~ProjectLock() {
  release();
}

void ProjectLock::release() {
  if (descriptor_ < 0) return;
  if (!file_.empty()) unlink(file_.c_str());
  close(descriptor_);
  descriptor_ = -1;
}

Status replaceProject(const std::string& part, const std::string& path) {
  const auto failed = [&](const Error& e) {
    removeProject(part);
    return Error{e.code, path, e.detail};
  };
  if (const Status whole = checkPart(part); !whole.ok()) return failed(whole.error());
  const auto lock = ProjectLock::take(path);
  if (!lock.ok()) return failed(lock.error());
  if (const Status settled = settle(path); !settled.ok()) return failed(settled.error());
  std::error_code problem;
  fs::rename(part, path, problem);
  if (problem) return failed({Code::unwritable, path, "cannot be written: " + problem.message()});
  syncFolderOf(path);
  return {};
}

void removeProject(const std::string& path) {
  std::error_code ignored;
  for (const char* ending : {"", "-wal", "-shm", "-journal"}) fs::remove(path + ending, ignored);
}

std::string partBeside(const std::string& path) {
  return path + "." + std::to_string(getpid()) + ".part";
}

}  // namespace hseam::store
