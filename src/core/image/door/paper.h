#pragma once

#include <OpenImageIO/filesystem.h>
#include <unistd.h>

#include <cstdint>
#include <cstdio>
#include <string>

namespace hseam::image::door {

// Where encoders write. The JPEG encoder ends the whole program when a write fails, and the PNG encoder takes no notice: so a
// failure is kept here, told to nobody, and asked for at the end.
class Paper final : public OIIO::Filesystem::IOProxy {
 public:
  explicit Paper(const std::string& path)
      : IOProxy(path, Write), file_(std::fopen(path.c_str(), "wb")), failed_(file_ == nullptr) {}
  ~Paper() override { close(); }
  const char* proxytype() const override { return "paper"; }
  size_t write(const void* bytes, size_t count) override {
    failed_ = failed_ || std::fwrite(bytes, 1, count, file_) != count;
    m_pos += std::int64_t(count);
    return count;
  }
  bool seek(std::int64_t offset) override {
    failed_ = failed_ || std::fseek(file_, long(offset), SEEK_SET) != 0;
    m_pos = offset;
    return true;
  }
  size_t size() const override { return size_t(m_pos); }
  void close() override {
    if (!file_) return;
    failed_ = std::fflush(file_) != 0 || fsync(fileno(file_)) != 0 || failed_;
    failed_ = std::fclose(file_) != 0 || failed_;
    file_ = nullptr;
  }
  bool failed() const { return failed_; }

 private:
  std::FILE* file_;
  bool failed_;
};

}  // namespace hseam::image::door
