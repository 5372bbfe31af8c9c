#pragma once

#include <cstddef>
#include <cstdint>
#include <map>
#include <string>

#include "core/base/error.h"

namespace hseam::image::door {

// The file that encoders write to. Some encoders abort, crash or ignore a failed write, so the failure is kept here and read from
// outcome(). After one, data is only kept in memory, for encoders that read back what they wrote.
class Paper final {
 public:
  explicit Paper(const std::string& path);
  Paper(const Paper&) = delete;
  Paper& operator=(const Paper&) = delete;
  ~Paper() { close(); }
  void write(const void* bytes, std::size_t count);
  std::size_t read(void* bytes, std::size_t count);
  void seek(std::int64_t to) { at_ = to; }
  std::int64_t tell() const { return at_; }
  std::int64_t size() const { return end_; }
  void close();
  bool failed() const { return failed_; }
  /// After close(): the error, if a write failed.
  base::Status outcome() const;

 private:
  std::string path_;
  int file_;
  bool failed_;
  std::int64_t at_ = 0, end_ = 0;
  std::map<std::int64_t, std::string> remembered_;
};

}  // namespace hseam::image::door
