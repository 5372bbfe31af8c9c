#pragma once
// What every fuzzed reader shares: its bytes as a file, small memory, one thread.

#include <unistd.h>

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <string>

#include "core/base/executor.h"
#include "core/image/tile.h"

namespace hseam::fuzz {

inline const std::shared_ptr<image::TileMemory>& memory() {
  static const auto shared = image::TileMemory::create(std::size_t(256) << 20);
  return shared;
}
inline base::Executor& here() {
  static base::InlineExecutor executor;
  return executor;
}

/// The bytes as a file in memory where there is one; gone with the object.
class File {
 public:
  File(const std::uint8_t* bytes, std::size_t count, const char* ending)
      : path_((access("/dev/shm", W_OK) == 0 ? "/dev/shm/hseam-fuzz-" : "/tmp/hseam-fuzz-") + std::to_string(getpid()) + ending) {
    std::FILE* f = std::fopen(path_.c_str(), "wb");
    if (!f || (count > 0 && std::fwrite(bytes, 1, count, f) != count)) std::abort();
    std::fclose(f);
  }
  ~File() {
    for (const char* more : {"", "-wal", "-shm", "-journal"}) std::remove((path_ + more).c_str());
  }
  File(const File&) = delete;
  File& operator=(const File&) = delete;
  const std::string& path() const { return path_; }

 private:
  std::string path_;
};

}  // namespace hseam::fuzz
