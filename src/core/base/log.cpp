#include "core/base/log.h"

#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>
#include <array>
#include <atomic>
#include <cstdlib>
#include <filesystem>
#include <memory>

namespace hseam::base {
namespace {

constexpr std::array kNames{"debug", "info", "warning", "error", "off"};
constexpr std::array kLevels{spdlog::level::debug, spdlog::level::info, spdlog::level::warn, spdlog::level::err,
                             spdlog::level::off};

std::atomic<std::shared_ptr<spdlog::logger>>& current() {
  static std::atomic<std::shared_ptr<spdlog::logger>> logger;
  return logger;
}

std::string stateFolder() {
  const char* state = std::getenv("XDG_STATE_HOME");
  if (state && *state == '/') return std::string(state) + "/hidden-seam";
  const char* home = std::getenv("HOME");
  return home && *home == '/' ? std::string(home) + "/.local/state/hidden-seam" : std::string();
}

}  // namespace

std::optional<LogLevel> logLevelNamed(std::string_view name) {
  for (std::size_t i = 0; i < kNames.size(); ++i) {
    if (name == kNames[i]) return LogLevel(i);
  }
  return std::nullopt;
}

std::string beginLog(const std::string& program, LogLevel least) {
  endLog();
  const std::string folder = stateFolder();
  if (least == LogLevel::off || folder.empty()) return {};
  std::error_code unmade;
  std::filesystem::create_directories(folder, unmade);
  std::string path = folder + "/" + program + ".log";
  constexpr std::size_t kMostBytes = 1'000'000, kEarlier = 2;
  try {
    auto sink = std::make_shared<spdlog::sinks::rotating_file_sink_mt>(path, kMostBytes, kEarlier);
    auto logger = std::make_shared<spdlog::logger>(program, std::move(sink));
    logger->set_level(kLevels[std::size_t(least)]);
    logger->set_pattern("%Y-%m-%d %H:%M:%S.%e %P %l  %v");
    logger->flush_on(spdlog::level::debug);  // a program that dies keeps its last words
    // A full disk must not speak on the program's standard error, once a line.
    logger->set_error_handler([](const std::string&) {});
    current().store(std::move(logger));
  } catch (const std::exception&) {
    return {};  // a folder that cannot be written; the work goes on
  }
  return path;
}

void log(LogLevel level, std::string_view sentence) {
  const auto logger = current().load();
  if (logger) logger->log(kLevels[std::size_t(level)], spdlog::string_view_t(sentence.data(), sentence.size()));
}

void endLog() {
  const auto logger = current().exchange(nullptr);
  if (logger) logger->flush();
}

}  // namespace hseam::base
