// hseam batch LIST.json [--workers N] [--again] [--print-jobs]

#include <signal.h>
#include <unistd.h>

#include <CLI/CLI.hpp>
#include <atomic>
#include <cmath>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <thread>

#include "cli/command.h"
#include "core/batch/run.h"

namespace hseam::cli {
namespace {

struct BatchOptions {
  std::string list;
  int workers = 0;
  bool again = false, print = false;
};

// Ctrl+C ends the running steps, and what they were at is done anew the next time.
std::atomic<bool> interrupted{false};
class StopsOnSignal {
 public:
  StopsOnSignal() {
    signal(SIGINT, [](int) { interrupted = true; });
    signal(SIGTERM, [](int) { interrupted = true; });
    watch_ = std::jthread([this](std::stop_token ended) {
      while (!ended.stop_requested()) {
        if (interrupted) source_.request_stop();
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
      }
    });
  }
  std::stop_token token() const { return source_.get_token(); }

 private:
  std::stop_source source_;
  std::jthread watch_;
};

std::string lineOf(const batch::HowFar& f) {
  std::string line = std::to_string(f.ended) + " of " + std::to_string(f.all);
  if (f.failed > 0) line += ", " + std::to_string(f.failed) + " failed";
  if (f.secondsLeft >= 0 && f.ended < f.all) line += ", " + std::to_string(std::lround(f.secondsLeft)) + " s left";
  return line;
}

base::Result<Json> workOff(Run& run, const BatchOptions& o) {
  HSEAM_TRY(const batch::List list, batch::readList(o.list));
  const std::string program = std::filesystem::read_symlink("/proc/self/exe").string();
  if (o.print) {
    std::string lines;
    for (const batch::Job& job : list.jobs) lines += batch::commandLine(list, job, program) + "\n";
    return Json{{"jobs", list.jobs.size()}, {"text", lines}};
  }
  batch::RunOptions options;
  options.program = program;
  options.threads = run.threadsAsked();
  options.workers = o.workers > 0
                        ? o.workers
                        : (options.threads > 0 ? std::max(1, int(std::thread::hardware_concurrency()) / options.threads) : 1);
  options.again = o.again;
  const bool terminal = isatty(STDERR_FILENO) != 0;
  StopsOnSignal signals;
  auto outcome = run.work([&] {
    return batch::run(
        list, options,
        [terminal](const batch::HowFar& far) {
          if (terminal) std::fprintf(stderr, "\r\033[K%s%s", lineOf(far).c_str(), far.ended == far.all ? "\n" : "");
        },
        signals.token());
  });
  if (!outcome.ok()) return outcome.error();
  Json failed = Json::array();
  std::string text = std::to_string(outcome->done) + " done, " + std::to_string(outcome->before) + " done before, " +
                     std::to_string(outcome->failed.size()) + " failed\n";
  for (const batch::Failure& f : outcome->failed) {
    failed.push_back({{"job", f.job}, {"said", f.said}});
    text += f.job + ": " + f.said + "\n";
  }
  if (outcome->stopped) return base::Error{base::Code::cancelled, o.list, "stopped; the same command goes on where it was"};
  run.failedPart = !outcome->failed.empty();
  return Json{{"done", outcome->done}, {"done_before", outcome->before}, {"failed", failed}, {"text", text}};
}

}  // namespace

void addBatch(Commands& commands) {
  const auto o = std::make_shared<BatchOptions>();
  CLI::App* sub = commands.add("batch", "do the same to many files; goes on where an earlier run was ended",
                               [o](Run& run) { return workOff(run, *o); });
  sub->add_option("list", o->list, "the list (docs/batch.md)")->required();
  sub->add_option("--workers", o->workers, "jobs at a time; 0 = one, or as many as there are cores for --threads")
      ->check(CLI::Range(0, 256));
  sub->add_flag("--again", o->again, "also what was done before");
  sub->add_flag("--print-jobs", o->print, "do nothing; print one shell line for each job");
}

}  // namespace hseam::cli
