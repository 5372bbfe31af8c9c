#pragma once

#include <sys/resource.h>

#include <csignal>

namespace hseam::test {

/// No file of this process grows beyond so many bytes: what a full disk does.
class FullDisk {
 public:
  explicit FullDisk(rlim_t mostBytes = 1) {
    std::signal(SIGXFSZ, SIG_IGN);
    getrlimit(RLIMIT_FSIZE, &before_);
    const rlimit none{mostBytes, before_.rlim_max};
    setrlimit(RLIMIT_FSIZE, &none);
  }
  ~FullDisk() { end(); }
  FullDisk(const FullDisk&) = delete;
  FullDisk& operator=(const FullDisk&) = delete;
  void end() { setrlimit(RLIMIT_FSIZE, &before_); }

 private:
  rlimit before_{};
};

}  // namespace hseam::test
