#pragma once

#include <map>
#include <string>

#include "core/base/error.h"

namespace hseam::batch {

/// What has been done of a list, in LIST.journal beside it: one JSON object a line, {"job", "stamp", "ok", "said"}; the last line
/// of a job counts. Each line is on the disk before the next job begins, so a killed run can be resumed; an incomplete line does
/// not count. One process at a time writes (an advisory lock). One thread.
class Journal {
 public:
  struct Entry {
    std::string stamp;
    bool ok = false;
    std::string said;  // what went wrong
  };
  /// Reads the journal and locks it. Errors: conflict (another process has it), unwritable.
  static base::Result<Journal> open(const std::string& listPath);
  /// Reads it without the lock: how far another process's run is.
  static std::map<std::string, Entry> look(const std::string& listPath);
  static std::string pathFor(const std::string& listPath) { return listPath + ".journal"; }

  Journal(Journal&& other) noexcept;
  Journal& operator=(Journal&&) = delete;
  ~Journal();
  const std::map<std::string, Entry>& entries() const { return entries_; }
  /// Errors: unwritable.
  base::Status add(const std::string& job, const Entry& entry);

 private:
  Journal(std::string path, int file) : path_(std::move(path)), file_(file) {}
  std::string path_;
  int file_;
  std::map<std::string, Entry> entries_;
};

}  // namespace hseam::batch
