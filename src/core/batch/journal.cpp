#include "core/batch/journal.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <cstring>
#include <fstream>
#include <nlohmann/json.hpp>
#include <thread>
#include <utility>

#include "core/base/json_text.h"

namespace hseam::batch {
namespace {

using base::Code;
using base::Error;
using Json = nlohmann::json;

}  // namespace

std::map<std::string, Journal::Entry> Journal::look(const std::string& listPath) {
  std::map<std::string, Entry> entries;
  std::ifstream file(pathFor(listPath), std::ios::binary);
  for (std::string line; std::getline(file, line);) {
    const Json j = Json::parse(line, nullptr, false);
    if (!j.is_object() || !j.contains("job") || !j["job"].is_string()) continue;
    try {
      entries[j["job"].get<std::string>()] = {j.value("stamp", ""), j.value("ok", false), j.value("said", "")};
    } catch (const Json::exception&) {
      continue;  // a line of another form tells nothing
    }
  }
  return entries;
}

base::Result<Journal> Journal::open(const std::string& listPath) {
  const std::string path = pathFor(listPath);
  const int file = ::open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0666);
  if (file < 0) return Error{Code::unwritable, path, std::string("cannot be written: ") + std::strerror(errno)};
  Journal journal(path, file);
  // A process that a killed run had just begun holds what it inherited for a moment, until it is another program.
  constexpr int kTries = 25;
  constexpr auto kBetween = std::chrono::milliseconds(20);
  bool held = flock(file, LOCK_EX | LOCK_NB) == 0;
  for (int i = 1; i < kTries && !held; ++i) {
    std::this_thread::sleep_for(kBetween);
    held = flock(file, LOCK_EX | LOCK_NB) == 0;
  }
  if (!held) return Error{Code::conflict, listPath, "another run is at work on this list; wait for it, or end it"};
  journal.entries_ = look(listPath);
  // After a line that was cut off in the middle the next one begins anew.
  const off_t end = lseek(file, 0, SEEK_END);
  char last = '\n';
  if (end > 0 && pread(file, &last, 1, end - 1) == 1 && last != '\n' && ::write(file, "\n", 1) != 1)
    return Error{Code::unwritable, path, std::string("cannot be written: ") + std::strerror(errno)};
  return journal;
}

Journal::Journal(Journal&& other) noexcept
    : path_(std::move(other.path_)), file_(std::exchange(other.file_, -1)), entries_(std::move(other.entries_)) {}

Journal::~Journal() {
  if (file_ >= 0) ::close(file_);
}

base::Status Journal::add(const std::string& job, const Entry& entry) {
  Json j = {{"job", job}, {"stamp", entry.stamp}, {"ok", entry.ok}};
  if (!entry.said.empty()) j["said"] = entry.said;
  const std::string line = base::jsonText(j) + "\n";
  if (::write(file_, line.data(), line.size()) != ssize_t(line.size()) || fdatasync(file_) != 0)
    return Error{Code::unwritable, path_, std::string("what was done cannot be noted: ") + std::strerror(errno)};
  entries_[job] = entry;
  return {};
}

}  // namespace hseam::batch
