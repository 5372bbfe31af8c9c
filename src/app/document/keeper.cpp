#include "app/document/keeper.h"

#include <new>

#include "app/document/courtesy.h"

namespace hseam::app {

Keeper::Keeper(std::unique_ptr<store::ProjectFile> file, QObject* parent)
    : QObject(parent), file_(std::move(file)), thread_([this](const std::stop_token& stop) { run(stop); }) {}

Keeper::~Keeper() {
  flush();
  thread_.request_stop();
  wake_.notify_all();
  thread_.join();
}

void Keeper::post(Work work) {
  {
    const std::lock_guard lock(mutex_);
    queue_.push_back(std::move(work));
  }
  wake_.notify_one();
}

void Keeper::flush() {
  std::unique_lock lock(mutex_);
  idle_.wait(lock, [this] { return queue_.empty() && !busy_; });
}

void Keeper::run(const std::stop_token& stop) {
  giveWay();
  std::unique_lock lock(mutex_);
  while (wake_.wait(lock, stop, [this] { return !queue_.empty(); })) {
    const Work work = std::move(queue_.front());
    queue_.pop_front();
    busy_ = true;
    lock.unlock();
    const base::Status done = [&]() -> base::Status {
      try {
        return work(*file_);
      } catch (const std::bad_alloc&) {
        return base::noMemory(file_->path());
      }
    }();
    if (done.ok()) {
      emit kept();
    } else {
      emit failed(QString::fromStdString(done.error().text()));
    }
    lock.lock();
    busy_ = false;
    if (queue_.empty()) idle_.notify_all();
  }
}

}  // namespace hseam::app
