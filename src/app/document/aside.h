#pragma once
// Small pictures and figures for the interface (thumbnails, histograms, a ground's colour), worked out beside the UI thread.

#include <QObject>
#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <thread>

namespace hseam::app {

class Aside : public QObject {
  Q_OBJECT

 public:
  explicit Aside(QObject* parent = nullptr);
  ~Aside() override;

  /// Runs `work` on the one worker and hands its result to `done` on the UI thread. A newer request of the same name takes
  /// an older one's place: what comes too late is dropped. work must hold all it needs by value.
  template <class T>
  void ask(const QString& name, std::function<T()> work, std::function<void(const T&)> done) {
    enqueue(name, [work = std::move(work), done = std::move(done)]() -> Landing {
      auto value = std::make_shared<const T>(work());
      return [done, value] { done(*value); };
    });
  }
  /// What waits or runs under names beginning so will not be handed over.
  void forget(const QString& prefix);
  bool idle() const { return newest_.empty(); }

 private:
  using Landing = std::function<void()>;
  using Flight = std::function<Landing()>;
  void enqueue(const QString& name, Flight flight);
  void work(const std::stop_token& stop);

  std::map<QString, quint64> newest_;  // of each name that is awaited; UI thread only
  quint64 count_ = 0;
  std::mutex mutex_;
  std::condition_variable_any wake_;
  std::map<QString, std::pair<quint64, Flight>> waiting_;
  std::jthread thread_;
};

}  // namespace hseam::app
