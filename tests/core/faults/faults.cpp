#include "faults.h"

#include <dlfcn.h>
#include <fcntl.h>
#include <sys/types.h>
#include <sys/uio.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <new>

namespace {

using hseam::test::faults::Kind;

constexpr std::size_t kLarge = 65536;

std::atomic<bool> armed{false}, fired{false};
std::atomic<long> left{0};
Kind armedKind = Kind::memory;
char folder[1024] = "";

bool below(const char* path) {
  return path && folder[0] != '\0' && std::strncmp(path, folder, std::strlen(folder)) == 0;
}
bool below(int descriptor) {
  char link[64], path[1024];
  std::snprintf(link, sizeof link, "/proc/self/fd/%d", descriptor);
  const ssize_t n = readlink(link, path, sizeof path - 1);
  if (n <= 0) return false;
  path[n] = '\0';
  return below(path);
}

enum class Does { reads, writes };

bool fileFails(Does does) {
  if (armedKind == Kind::fileOn && does == Does::reads) return false;
  const long now = left.fetch_sub(1);
  const bool fails = now == 1 || (now < 1 && armedKind == Kind::fileOn);
  if (fails) {
    fired = true;
    errno = does == Does::writes ? ENOSPC : EIO;
  }
  return fails;
}
template <class Which>
bool fails(const Which& which, Does does) {
  if (!armed || armedKind == Kind::memory) return false;
  const int before = errno;
  const bool ours = below(which);
  errno = before;
  return ours && fileFails(does);
}

template <class F>
F real(const char* name) {
  return reinterpret_cast<F>(dlsym(RTLD_NEXT, name));
}

bool writesOn(int flags) {
  return (flags & O_ACCMODE) != O_RDONLY;
}

void* allocated(std::size_t size) {
  if (size >= kLarge && armed && armedKind == Kind::memory && left.fetch_sub(1) == 1) {
    fired = true;
    return nullptr;
  }
  return std::malloc(size ? size : 1);
}

}  // namespace

namespace hseam::test::faults {

void arm(Kind kind, long nth, const std::string& below) {
  armedKind = kind;
  left = nth;
  fired = false;
  std::snprintf(folder, sizeof folder, "%s", below.c_str());
  armed = true;
}
bool disarm() {
  armed = false;
  return fired;
}

}  // namespace hseam::test::faults

// ------------------------------------------------------------------ memory

void* operator new(std::size_t size) {
  if (void* p = allocated(size)) return p;
  throw std::bad_alloc();
}
void* operator new[](std::size_t size) {
  return operator new(size);
}
void* operator new(std::size_t size, const std::nothrow_t&) noexcept {
  return allocated(size);
}
void* operator new[](std::size_t size, const std::nothrow_t&) noexcept {
  return allocated(size);
}
void operator delete(void* p) noexcept {
  std::free(p);
}
void operator delete[](void* p) noexcept {
  std::free(p);
}
void operator delete(void* p, std::size_t) noexcept {
  std::free(p);
}
void operator delete[](void* p, std::size_t) noexcept {
  std::free(p);
}

// ------------------------------------------------------------------ files

#define HSEAM_REAL(name) static const auto next = real<decltype(&::name)>(#name)

extern "C" {

int open(const char* path, int flags, ...) {
  va_list list;
  va_start(list, flags);
  const mode_t mode = (flags & (O_CREAT | O_TMPFILE)) ? va_arg(list, mode_t) : 0;
  va_end(list);
  static const auto next = real<int (*)(const char*, int, ...)>("open");
  return fails(path, writesOn(flags) ? Does::writes : Does::reads) ? -1 : next(path, flags, mode);
}
int open64(const char* path, int flags, ...) {
  va_list list;
  va_start(list, flags);
  const mode_t mode = (flags & (O_CREAT | O_TMPFILE)) ? va_arg(list, mode_t) : 0;
  va_end(list);
  static const auto next = real<int (*)(const char*, int, ...)>("open64");
  return fails(path, writesOn(flags) ? Does::writes : Does::reads) ? -1 : next(path, flags, mode);
}
FILE* fopen(const char* path, const char* mode) {
  HSEAM_REAL(fopen);
  return fails(path, *mode == 'r' ? Does::reads : Does::writes) ? nullptr : next(path, mode);
}
FILE* fopen64(const char* path, const char* mode) {
  HSEAM_REAL(fopen64);
  return fails(path, *mode == 'r' ? Does::reads : Does::writes) ? nullptr : next(path, mode);
}
ssize_t write(int fd, const void* bytes, size_t count) {
  HSEAM_REAL(write);
  return fails(fd, Does::writes) ? -1 : next(fd, bytes, count);
}
ssize_t writev(int fd, const iovec* parts, int count) {
  HSEAM_REAL(writev);
  return fails(fd, Does::writes) ? -1 : next(fd, parts, count);
}
ssize_t pwrite64(int fd, const void* bytes, size_t count, off64_t at) {
  HSEAM_REAL(pwrite64);
  return fails(fd, Does::writes) ? -1 : next(fd, bytes, count, at);
}
ssize_t pwrite(int fd, const void* bytes, size_t count, off_t at) {
  HSEAM_REAL(pwrite);
  return fails(fd, Does::writes) ? -1 : next(fd, bytes, count, at);
}
ssize_t pread(int fd, void* bytes, size_t count, off_t at) {
  HSEAM_REAL(pread);
  return fails(fd, Does::reads) ? -1 : next(fd, bytes, count, at);
}
ssize_t read(int fd, void* bytes, size_t count) {
  HSEAM_REAL(read);
  return fails(fd, Does::reads) ? -1 : next(fd, bytes, count);
}
ssize_t pread64(int fd, void* bytes, size_t count, off64_t at) {
  HSEAM_REAL(pread64);
  return fails(fd, Does::reads) ? -1 : next(fd, bytes, count, at);
}
int fsync(int fd) {  // the real disk need not be waited for
  return fails(fd, Does::writes) ? -1 : 0;
}
int fdatasync(int fd) {  // the real disk need not be waited for
  return fails(fd, Does::writes) ? -1 : 0;
}
int ftruncate64(int fd, off64_t size) noexcept {
  HSEAM_REAL(ftruncate64);
  return fails(fd, Does::writes) ? -1 : next(fd, size);
}
int rename(const char* from, const char* to) noexcept {
  HSEAM_REAL(rename);
  return fails(to, Does::writes) ? -1 : next(from, to);
}
size_t fwrite(const void* bytes, size_t size, size_t count, FILE* file) {
  HSEAM_REAL(fwrite);
  return fails(fileno(file), Does::writes) ? 0 : next(bytes, size, count, file);
}
size_t fread(void* bytes, size_t size, size_t count, FILE* file) {
  HSEAM_REAL(fread);
  return fails(fileno(file), Does::reads) ? 0 : next(bytes, size, count, file);
}
int fflush(FILE* file) {
  HSEAM_REAL(fflush);
  return file && fails(fileno(file), Does::writes) ? EOF : next(file);
}
int fclose(FILE* file) {
  HSEAM_REAL(fclose);
  const bool failing = fails(fileno(file), Does::writes);
  const int closed = next(file);
  return failing ? EOF : closed;
}

}  // extern "C"
