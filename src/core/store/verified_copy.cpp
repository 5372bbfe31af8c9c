#include "core/store/verified_copy.h"

#include <fcntl.h>
#include <unistd.h>

#include <filesystem>
#include <optional>
#include <vector>

#include "core/image/tile.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;

constexpr std::size_t kPart = 4u << 20;

class OpenFile {
 public:
  OpenFile(const std::string& path, int flags) : file_(::open(path.c_str(), flags | O_CLOEXEC, 0666)) {}
  OpenFile(const OpenFile&) = delete;
  OpenFile& operator=(const OpenFile&) = delete;
  ~OpenFile() {
    if (file_ >= 0) ::close(file_);
  }
  int number() const { return file_; }

 private:
  int file_;
};

// The hashes of a file's parts, in order; nothing: it cannot be read to its end.
std::optional<std::vector<image::ContentHash>> hashesOf(int file) {
  std::vector<std::byte> part(kPart);
  std::vector<image::ContentHash> hashes;
  for (std::size_t filled = 0;;) {
    const ssize_t n = ::read(file, part.data() + filled, part.size() - filled);
    if (n < 0) return std::nullopt;
    filled += std::size_t(n);
    if (n > 0 && filled < part.size()) continue;
    hashes.push_back(image::hashOf({part.data(), filled}));
    if (n == 0) return hashes;
    filled = 0;
  }
}

base::Status copyInto(int from, const std::string& fromPath, int to, const std::string& toPath,
                      std::vector<image::ContentHash>& hashes) {
  std::vector<std::byte> part(kPart);
  for (std::size_t filled = 0;;) {
    const ssize_t n = ::read(from, part.data() + filled, part.size() - filled);
    if (n < 0) return Error{Code::unreadable, fromPath, "reading stopped: the medium is gone or broken"};
    filled += std::size_t(n);
    if (n > 0 && filled < part.size()) continue;
    hashes.push_back(image::hashOf({part.data(), filled}));
    for (std::size_t done = 0; done < filled;) {
      const ssize_t w = ::write(to, part.data() + done, filled - done);
      if (w <= 0) return Error{Code::unwritable, toPath, "writing stopped: the disk is full or gone"};
      done += std::size_t(w);
    }
    if (n == 0) break;
    filled = 0;
  }
  // From the disk, not from the system's memory of what was just written.
  if (fsync(to) != 0) return Error{Code::unwritable, toPath, "writing stopped: the disk is full or gone"};
  posix_fadvise(to, 0, 0, POSIX_FADV_DONTNEED);
  return {};
}

}  // namespace

base::Status copyVerified(const std::string& from, const std::string& folder) try {
  const std::string target = (fs::path(folder) / fs::path(from).filename()).string(), part = target + ".part";
  const OpenFile source(from, O_RDONLY);
  if (source.number() < 0)
    return Error{fs::exists(from) ? Code::unreadable : Code::notFound, from,
                 fs::exists(from) ? "the file may not be read" : "there is no such file"};
  if (fs::exists(target)) {
    const OpenFile there(target, O_RDONLY);
    const auto own = hashesOf(source.number()), other = there.number() < 0 ? std::nullopt : hashesOf(there.number());
    if (own && other && *own == *other) return {};
    return Error{Code::conflict, target, "another file of that name lies there; it stays as it is"};
  }
  std::vector<image::ContentHash> hashes;
  auto copied = [&]() -> base::Status {
    const OpenFile copy(part, O_RDWR | O_CREAT | O_TRUNC);
    if (copy.number() < 0) return Error{Code::unwritable, target, "cannot be written (is its folder read-only or gone?)"};
    HSEAM_DO(copyInto(source.number(), from, copy.number(), target, hashes));
    if (lseek(copy.number(), 0, SEEK_SET) != 0 || hashesOf(copy.number()) != hashes)
      return Error{Code::conflict, target, "what was read back is not what was written; the copy is taken away"};
    return {};
  }();
  std::error_code problem;
  if (!copied.ok()) {
    fs::remove(part, problem);
    return copied;
  }
  fs::last_write_time(part, fs::last_write_time(from, problem), problem);
  fs::rename(part, target, problem);
  if (problem) return Error{Code::unwritable, target, "cannot be written: " + problem.message()};
  return {};
} catch (...) {
  return base::caught(from);
}

}  // namespace hseam::store
