#pragma once
// The write lock of a project. The system releases it when its holder dies.

#include <string>

#include "core/base/error.h"

namespace hseam::store {

/// An advisory lock (flock, Linux) on NAME.hseam-lock beside the project. A file of its own: SQLite's locks on the database are
/// POSIX locks, which a process loses when it closes any descriptor of that file, and a project is replaced by renaming, which
/// would leave a lock on the old one (docs/decisions/015). Any thread; two holders in one process exclude each other as well.
class ProjectLock {
 public:
  /// Errors: conflict (somebody has it; the text says who and since when), unwritable (the folder takes no files).
  /// On a file system without locks it always succeeds.
  static base::Result<ProjectLock> take(const std::string& projectPath);
  /// Whether a living process holds it.
  static bool isHeld(const std::string& projectPath);

  ProjectLock(ProjectLock&& other) noexcept;
  ProjectLock& operator=(ProjectLock&& other) noexcept;
  /// Releases the lock and removes its file.
  ~ProjectLock();

 private:
  ProjectLock(int descriptor, std::string file) : descriptor_(descriptor), file_(std::move(file)) {}
  void release();
  int descriptor_ = -1;
  std::string file_;
};

/// Moves the project at `part`, which is whole and closed, to `path`, under the lock of `path`. What was at `path` is there
/// until the new one is, and the log it may have left goes with it. On failure `part` is taken away. Errors: conflict (`path` is
/// open somewhere), corrupt (`part` is no project), unwritable.
base::Status replaceProject(const std::string& part, const std::string& path);

/// Removes a project's file and what a killed program may have left beside it. Errors are ignored.
void removeProject(const std::string& path);

/// A name beside `path` for what is written before it is moved there; no other process uses it.
std::string partBeside(const std::string& path);

}  // namespace hseam::store
