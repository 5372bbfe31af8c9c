#include "core/batch/run.h"

#include <fcntl.h>
#include <signal.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <cstring>
#include <deque>
#include <filesystem>
#include <optional>
#include <thread>

extern char** environ;

namespace hseam::batch {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;
using Clock = std::chrono::steady_clock;

constexpr std::size_t kMostSaid = 400;  // bytes of what a step says that are kept

// The end of what a step wrote to its error output, on one line.
std::string lastWords(const std::string& path) {
  std::string text;
  if (const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC); file >= 0) {
    const off_t size = lseek(file, 0, SEEK_END), from = std::max<off_t>(0, size - off_t(kMostSaid));
    text.resize(std::size_t(size - from));
    const ssize_t n = pread(file, text.data(), text.size(), from);
    text.resize(std::size_t(std::max<ssize_t>(0, n)));
    ::close(file);
  }
  while (!text.empty() && (text.back() == '\n' || text.back() == ' ')) text.pop_back();
  if (const auto line = text.rfind('\n'); line != std::string::npos) text.erase(0, line + 1);
  constexpr std::string_view kOwn = "hseam: ";
  if (text.rfind(kOwn, 0) == 0) text.erase(0, kOwn.size());
  return text;
}

// One job on its way: the step that runs, and where its words go.
class Running {
 public:
  Running(const List& list, const Job& job, std::string stamp, const RunOptions& options)
      : list_(list),
        job_(job),
        stamp_(std::move(stamp)),
        options_(options),
        words_(Journal::pathFor(list.path) + "-" + std::to_string(++count_)) {}
  ~Running() {
    std::error_code ignored;
    fs::remove(words_, ignored);
  }
  Running(const Running&) = delete;
  Running& operator=(const Running&) = delete;
  const Job& job() const { return job_; }
  const std::string& stamp() const { return stamp_; }

  /// Starts the first step; nothing: it runs.
  std::optional<std::string> begin() {
    std::error_code problem;
    if (!job_.work.empty()) {
      fs::remove_all(job_.work, problem);
      fs::create_directories(job_.work, problem);
      if (problem) return "its work folder cannot be made: " + problem.message();
    }
    return startStep();
  }
  enum class State { runs, done, failed };
  /// Looks without waiting.
  State look() {
    int status = 0;
    const pid_t ended = waitpid(process_, &status, WNOHANG);
    if (ended == 0) return State::runs;
    process_ = -1;
    if (ended < 0 || !WIFEXITED(status)) {
      said_ = "the step \"" + step() + "\" broke down" +
              (ended > 0 && WIFSIGNALED(status) ? std::string(" (") + strsignal(WTERMSIG(status)) + ")" : "");
      return State::failed;
    }
    if (WEXITSTATUS(status) != 0) {
      const std::string words = lastWords(words_);
      said_ = words.empty() ? "the step \"" + step() + "\" failed" : words;
      return State::failed;
    }
    if (++step_ == job_.steps.size()) {
      std::error_code ignored;
      if (!job_.work.empty()) fs::remove_all(job_.work, ignored);
      return State::done;
    }
    if (auto problem = startStep()) {
      said_ = *problem;
      return State::failed;
    }
    return State::runs;
  }
  const std::string& said() const { return said_; }
  void end() {
    if (process_ <= 0) return;
    kill(process_, SIGTERM);
    waitpid(process_, nullptr, 0);
    process_ = -1;
  }

 private:
  const std::string& step() const { return job_.steps[std::min(step_, job_.steps.size() - 1)][0]; }
  std::optional<std::string> startStep() {
    std::vector<std::string> arguments{options_.program};
    if (options_.threads > 0) arguments.insert(arguments.end(), {"--threads", std::to_string(options_.threads)});
    arguments.insert(arguments.end(), job_.steps[step_].begin(), job_.steps[step_].end());
    std::vector<char*> argv;
    argv.reserve(arguments.size() + 1);
    for (std::string& a : arguments) argv.push_back(a.data());
    argv.push_back(nullptr);
    posix_spawn_file_actions_t files;
    posix_spawn_file_actions_init(&files);
    posix_spawn_file_actions_addopen(&files, STDIN_FILENO, "/dev/null", O_RDONLY, 0);
    posix_spawn_file_actions_addopen(&files, STDOUT_FILENO, "/dev/null", O_WRONLY, 0);
    posix_spawn_file_actions_addopen(&files, STDERR_FILENO, words_.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0666);
    posix_spawn_file_actions_addchdir_np(&files, list_.folder.c_str());
    const int failed = posix_spawn(&process_, options_.program.c_str(), &files, nullptr, argv.data(), environ);
    posix_spawn_file_actions_destroy(&files);
    if (failed == 0) return std::nullopt;
    process_ = -1;
    return std::string("hseam cannot be started: ") + std::strerror(failed);
  }
  static inline int count_ = 0;
  const List& list_;
  const Job& job_;
  std::string stamp_;
  const RunOptions& options_;
  std::string words_, said_;
  std::size_t step_ = 0;
  pid_t process_ = -1;
};

struct ToDo {
  const Job* job;
  std::string stamp;
};

}  // namespace

base::Result<Outcome> run(const List& list, const RunOptions& options, const std::function<void(const HowFar&)>& told,
                          const std::stop_token& stop) try {
  HSEAM_TRY(Journal journal, Journal::open(list.path));
  if (!list.out.empty()) {
    std::error_code problem;
    fs::create_directories(list.out, problem);
    if (problem) return Error{Code::unwritable, list.out, "this folder cannot be made: " + problem.message()};
  }
  Outcome outcome;
  std::deque<ToDo> waiting;
  for (const Job& job : list.jobs) {
    std::string stamp = stampOf(list, job);
    const auto known = journal.entries().find(job.name);
    const bool same = known != journal.entries().end() && known->second.stamp == stamp && !options.again;
    if (same && known->second.ok) {
      ++outcome.before;
    } else if (same && !options.retryFailed) {
      outcome.failed.push_back({job.name, known->second.said});
    } else {
      waiting.push_back({&job, std::move(stamp)});
    }
  }
  HowFar far{0, int(waiting.size()), 0, -1};
  told(far);
  const auto began = Clock::now();
  std::vector<std::unique_ptr<Running>> running;
  const auto note = [&](const Running& r, bool ok) -> base::Status {
    HSEAM_DO(journal.add(r.job().name, {r.stamp(), ok, r.said()}));
    ++far.ended;
    if (ok) {
      ++outcome.done;
    } else {
      ++far.failed;
      outcome.failed.push_back({r.job().name, r.said()});
    }
    const double seconds = std::chrono::duration<double>(Clock::now() - began).count();
    far.secondsLeft = seconds / far.ended * (far.all - far.ended);
    told(far);
    return {};
  };
  const auto endAll = [&] {
    for (const auto& r : running) r->end();
  };
  while ((!waiting.empty() || !running.empty()) && !stop.stop_requested()) {
    while (!waiting.empty() && int(running.size()) < std::max(1, options.workers)) {
      auto next = std::make_unique<Running>(list, *waiting.front().job, waiting.front().stamp, options);
      waiting.pop_front();
      if (const auto problem = next->begin()) {
        endAll();
        return Error{Code::failed, options.program, *problem};
      }
      running.push_back(std::move(next));
    }
    bool any = false;
    for (std::size_t i = 0; i < running.size();) {
      const Running::State state = running[i]->look();
      if (state == Running::State::runs) {
        ++i;
        continue;
      }
      any = true;
      if (const auto noted = note(*running[i], state == Running::State::done); !noted.ok()) {
        endAll();
        return noted.error();
      }
      running.erase(running.begin() + long(i));
    }
    if (!any) std::this_thread::sleep_for(std::chrono::milliseconds(5));
  }
  outcome.stopped = !running.empty() || !waiting.empty();
  endAll();
  return outcome;
} catch (...) {
  return base::caught(list.path);
}

}  // namespace hseam::batch
