#include "app/document/aside.h"

#include <QMetaObject>

#include "app/document/courtesy.h"

namespace hseam::app {

Aside::Aside(QObject* parent) : QObject(parent), thread_([this](const std::stop_token& stop) { work(stop); }) {}

Aside::~Aside() {
  thread_.request_stop();
  wake_.notify_all();
  thread_.join();
}

void Aside::enqueue(const QString& name, Flight flight) {
  newest_[name] = ++count_;
  {
    const std::lock_guard lock(mutex_);
    waiting_[name] = {count_, std::move(flight)};
  }
  wake_.notify_one();
}

void Aside::forget(const QString& prefix) {
  std::erase_if(newest_, [&](const auto& n) { return n.first.startsWith(prefix); });
  const std::lock_guard lock(mutex_);
  std::erase_if(waiting_, [&](const auto& w) { return w.first.startsWith(prefix); });
}

void Aside::work(const std::stop_token& stop) {
  lowerPriority();
  std::unique_lock lock(mutex_);
  while (wake_.wait(lock, stop, [this] { return !waiting_.empty(); })) {
    const auto [name, request] = *waiting_.begin();
    waiting_.erase(waiting_.begin());
    lock.unlock();
    // A thumbnail or a figure that there is no memory for, or that a library breaks down over, is left out.
    const Landing landing = [&]() -> Landing {
      try {
        return request.second();
      } catch (...) {
        return [] {};
      }
    }();
    QMetaObject::invokeMethod(
        this,
        [this, name = name, number = request.first, landing] {
          const auto awaited = newest_.find(name);
          if (awaited == newest_.end() || awaited->second != number) return;
          newest_.erase(awaited);
          landing();
        },
        Qt::QueuedConnection);
    lock.lock();
  }
}

}  // namespace hseam::app
