#include "core/image/door/paper.h"

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cstring>

namespace hseam::image::door {

Paper::Paper(const std::string& path)
    : path_(path), file_(::open(path.c_str(), O_RDWR | O_CREAT | O_TRUNC | O_CLOEXEC, 0666)), failed_(file_ < 0) {}

void Paper::write(const void* bytes, std::size_t count) {
  const auto* from = static_cast<const char*>(bytes);
  for (std::size_t done = 0; done < count && !failed_;) {
    const ssize_t n = ::pwrite(file_, from + done, count - done, at_ + std::int64_t(done));
    failed_ = n <= 0;
    done += std::size_t(std::max<ssize_t>(n, 0));
  }
  if (failed_) remembered_[at_].assign(from, count);
  at_ += std::int64_t(count);
  end_ = std::max(end_, at_);
}

std::size_t Paper::read(void* bytes, std::size_t count) {
  count = std::size_t(std::clamp<std::int64_t>(end_ - at_, 0, std::int64_t(count)));
  auto* to = static_cast<char*>(bytes);
  std::memset(to, 0, count);
  if (file_ >= 0 && ::pread(file_, to, count, at_) < 0) failed_ = true;
  for (const auto& [at, piece] : remembered_) {
    const std::int64_t first = std::max(at, at_), last = std::min(at + std::int64_t(piece.size()), at_ + std::int64_t(count));
    if (first < last) std::memcpy(to + (first - at_), piece.data() + (first - at), std::size_t(last - first));
  }
  at_ += std::int64_t(count);
  return count;
}

void Paper::close() {
  if (file_ < 0) return;
  failed_ = fsync(file_) != 0 || failed_;
  failed_ = ::close(file_) != 0 || failed_;
  file_ = -1;
}

base::Status Paper::outcome() const {
  if (!failed_) return {};
  if (end_ == 0) return base::Error{base::Code::unwritable, path_, "cannot be written (is its folder read-only or gone?)"};
  return base::Error{base::Code::unwritable, path_, "writing stopped: the disk is full or gone"};
}

}  // namespace hseam::image::door
