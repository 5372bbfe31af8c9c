#pragma once

#include <OpenImageIO/filesystem.h>
#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <map>
#include <string>

namespace hseam::image::door {

// Where encoders write. When a write fails, the JPEG encoder ends the whole program, the TIFF encoder crashes, and the PNG
// encoder takes no notice: so a failure is kept here, told to nobody, and asked for. From then on what is written is only
// remembered, for encoders that read back what they wrote.
class Paper final : public OIIO::Filesystem::IOProxy {
 public:
  explicit Paper(const std::string& path)
      : IOProxy(path, Write), file_(::open(path.c_str(), O_RDWR | O_CREAT | O_TRUNC | O_CLOEXEC, 0666)), failed_(file_ < 0) {}
  ~Paper() override { close(); }
  const char* proxytype() const override { return "paper"; }
  size_t write(const void* bytes, size_t count) override {
    const auto* from = static_cast<const char*>(bytes);
    for (size_t done = 0; done < count && !failed_;) {
      const ssize_t n = ::pwrite(file_, from + done, count - done, m_pos + std::int64_t(done));
      failed_ = n <= 0;
      done += size_t(std::max<ssize_t>(n, 0));
    }
    if (failed_) remembered_[m_pos].assign(from, count);
    m_pos += std::int64_t(count);
    end_ = std::max(end_, m_pos);
    return count;
  }
  size_t read(void* bytes, size_t count) override {
    count = size_t(std::clamp<std::int64_t>(end_ - m_pos, 0, std::int64_t(count)));
    auto* to = static_cast<char*>(bytes);
    std::memset(to, 0, count);
    if (file_ >= 0 && ::pread(file_, to, count, m_pos) < 0) failed_ = true;
    for (const auto& [at, piece] : remembered_) {
      const std::int64_t first = std::max(at, m_pos),
                         last = std::min(at + std::int64_t(piece.size()), m_pos + std::int64_t(count));
      if (first < last) std::memcpy(to + (first - m_pos), piece.data() + (first - at), size_t(last - first));
    }
    m_pos += std::int64_t(count);
    return count;
  }
  bool seek(std::int64_t offset) override {
    m_pos = offset;
    return true;
  }
  size_t size() const override { return size_t(end_); }
  void close() override {
    if (file_ < 0) return;
    failed_ = fsync(file_) != 0 || failed_;
    failed_ = ::close(file_) != 0 || failed_;
    file_ = -1;
  }
  bool failed() const { return failed_; }

 private:
  int file_;
  bool failed_;
  std::int64_t end_ = 0;
  std::map<std::int64_t, std::string> remembered_;
};

}  // namespace hseam::image::door
