#include "app/document/keeper.h"

#include <algorithm>

#include "app/document/courtesy.h"

namespace hseam::app {
namespace {

using Clock = std::chrono::steady_clock;

// After the first failure, and at the most: a full disk is emptied by somebody, a network comes back.
constexpr std::chrono::seconds kFirstPause{1}, kLongestPause{30};

// Nothing that a library throws may end the program: the work has failed, with what it says.
base::Status outcome(const Keeper::Work& work, store::ProjectFile& file) {
  try {
    return work(file);
  } catch (...) {
    return base::caught(file.path());
  }
}

}  // namespace

Keeper::Keeper(std::unique_ptr<store::ProjectFile> file, QObject* parent)
    : QObject(parent), file_(std::move(file)), thread_([this](const std::stop_token& stop) { run(stop); }) {}

Keeper::~Keeper() {
  static_cast<void>(flush());
  thread_.request_stop();
  wake_.notify_all();
  thread_.join();
}

void Keeper::keep(Work work) {
  {
    const std::lock_guard lock(mutex_);
    queue_.push_back({std::move(work), nullptr, ++entries_});
    ++steps_;
  }
  wake_.notify_one();
}

void Keeper::post(Work work, Told told) {
  CORE_CHECK(told != nullptr);
  {
    const std::lock_guard lock(mutex_);
    queue_.push_back({std::move(work), std::move(told), ++entries_});
  }
  wake_.notify_one();
}

void Keeper::copyAll(const QString& path, Told told) {
  post([this, path](store::ProjectFile& file) { return copyWithWaiting(file, path); }, std::move(told));
}

// On the writing thread.
base::Status Keeper::copyWithWaiting(store::ProjectFile& file, const QString& path) {
  std::vector<Work> left;
  {
    const std::lock_guard lock(mutex_);
    if (!why_.isEmpty()) {
      for (const Entry& e : queue_) {
        if (!e.told) left.push_back(e.work);
      }
    }
  }
  HSEAM_DO(file.copyTo(path.toStdString()));
  if (left.empty()) return {};
  base::InlineExecutor here;
  HSEAM_TRY(const auto copy, store::ProjectFile::open(path.toStdString(), image::TileMemory::create(std::size_t(1) << 28), here));
  for (const Work& work : left) HSEAM_DO(outcome(work, *copy.file));
  return copy.file->close();
}

Keeper::Waiting Keeper::waiting() const {
  const std::lock_guard lock(mutex_);
  return {steps_, why_};
}

void Keeper::tryAgain() {
  {
    const std::lock_guard lock(mutex_);
    again_ = true;
  }
  wake_.notify_one();
}

void Keeper::giveUp() {
  {
    const std::lock_guard lock(mutex_);
    std::erase_if(queue_, [](const Entry& e) { return !e.told; });
    steps_ = busy_ && steps_ > 0 ? 1 : 0;
    why_.clear();
    failures_ = 0;
  }
  wake_.notify_one();
  emit changed();
}

bool Keeper::flush() {
  std::unique_lock lock(mutex_);
  again_ = true;
  wake_.notify_one();
  idle_.wait(lock, [this] { return !busy_ && !again_ && (queue_.empty() || (!why_.isEmpty() && next() == queue_.end())); });
  return steps_ == 0;
}

// What can be done now; end(): nothing. The mutex is held.
std::deque<Keeper::Entry>::iterator Keeper::next() {
  const bool blocked = !why_.isEmpty() && !again_ && Clock::now() < retryAt_;
  if (!blocked) return queue_.begin();
  return std::find_if(queue_.begin(), queue_.end(), [](const Entry& e) { return e.told != nullptr; });
}

void Keeper::answer(const Told& told, const base::Status& done) {
  QMetaObject::invokeMethod(
      this, [told, done] { told(done); }, Qt::QueuedConnection);
}

void Keeper::run(const std::stop_token& stop) {
  lowerPriority();
  std::unique_lock lock(mutex_);
  while (!stop.stop_requested()) {
    const auto at = next();
    if (queue_.empty()) again_ = false;
    if (at == queue_.end()) {
      idle_.notify_all();
      const auto ready = [this] { return next() != queue_.end(); };
      if (why_.isEmpty()) {
        wake_.wait(lock, stop, [&] { return again_ || ready(); });
      } else {
        wake_.wait_until(lock, stop, retryAt_, ready);
      }
      continue;
    }
    const Entry entry = *at;
    const bool step = !entry.told;
    if (!step) queue_.erase(at);
    busy_ = true;
    lock.unlock();
    const base::Status done = outcome(entry.work, *file_);
    if (!step) answer(entry.told, done);
    lock.lock();
    busy_ = false;
    if (!step) {
      again_ = true;  // another place for the file may be the remedy
      continue;
    }
    again_ = false;
    if (done.ok()) {
      std::erase_if(queue_, [&](const Entry& e) { return e.number == entry.number; });
      steps_ = int(std::count_if(queue_.begin(), queue_.end(), [](const Entry& e) { return !e.told; }));
      why_.clear();
      failures_ = 0;
    } else if (steps_ > 0) {
      why_ = QString::fromStdString(done.error().text());
      retryAt_ = Clock::now() + std::min<Clock::duration>(kLongestPause, kFirstPause * (1 << std::min(failures_++, 5)));
    }
    lock.unlock();
    emit changed();
    lock.lock();
  }
}

}  // namespace hseam::app
