#pragma once
// A private folder for files on their way in or out.

#include <string>

namespace hseam::base {

/// Made below the system's folder for temporary files, readable by this user alone: nobody else can have put a link in a file's
/// place. It is removed with all that is in it when the object is destroyed.
class TemporaryFolder {
 public:
  /// `purpose` stands in its name.
  explicit TemporaryFolder(const char* purpose);
  ~TemporaryFolder();
  TemporaryFolder(const TemporaryFolder&) = delete;
  TemporaryFolder& operator=(const TemporaryFolder&) = delete;
  bool ok() const { return !path_.empty(); }
  std::string at(const std::string& name) const { return path_ + "/" + name; }

 private:
  std::string path_;  // empty: none could be made
};

}  // namespace hseam::base
