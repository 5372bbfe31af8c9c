#pragma once
// Work off the UI thread: one piece at a time in the order it was asked for, each with progress and stop. The one bridge from the
// core's results. All lanes of a window take their threads from one pool.

#include <QObject>
#include <QThreadPool>
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <stop_token>
#include <vector>

#include "core/base/executor.h"
#include "core/base/progress.h"

namespace hseam::app {

class Lane : public QObject {
  Q_OBJECT

 public:
  /// Both must outlive the lane.
  Lane(QThreadPool& pool, base::Executor& executor, QObject* parent = nullptr);
  /// Stops all, and waits until it has stopped.
  ~Lane() override;
  base::Executor& executor() { return executor_; }

  /// What a piece of work is called. Of those with one slot the newest counts: an older one that waits or runs is stopped.
  struct Name {
    QString name, slot;
    Name(const QString& n) : name(n), slot(n) {}
    Name(const QString& n, const QString& s) : name(n), slot(s) {}
  };
  /// Runs `work` at its turn; `done` gets its result on the UI thread, errors go to `failed`. What was stopped is handed to
  /// nobody.
  template <class T>
  void start(const Name& name, std::function<base::Result<T>(base::Executor&, const base::Progress&)> work,
             std::function<void(T)> done) {
    enqueue(
        name,
        [work = std::move(work), done = std::move(done)](base::Executor& executor, const base::Progress& progress) -> Landing {
          auto result = work(executor, progress);
          if (!result.ok()) return {{}, result.error()};
          auto value = std::make_shared<T>(std::move(result).value());
          return {[done, value] { done(std::move(*value)); }, {}};
        });
  }
  /// For small pictures and figures of the interface. `work` holds all it needs by value; one that breaks down is left out.
  template <class T>
  void ask(const Name& name, std::function<T()> work, std::function<void(const T&)> done) {
    enqueue(name, [work = std::move(work), done = std::move(done)](base::Executor&, const base::Progress&) -> Landing {
      auto value = std::make_shared<const T>(work());
      return {[done, value] { done(*value); }, {}};
    });
  }

  struct Entry {
    quint64 id = 0;
    QString name;
    bool runs = false;
    double share = 0;         // 0..1
    double secondsLeft = -1;  // negative while unknown
  };
  /// The one that runs, then those that wait.
  std::vector<Entry> entries() const;
  bool running() const { return !queue_.empty(); }
  /// Of the one that runs.
  QString name() const { return queue_.empty() ? QString() : queue_.front().name.name; }

  void stop(quint64 id);
  /// All whose slots begin so.
  void stopSlots(const QString& prefix);
  void stopAll() { stopSlots({}); }

 signals:
  void changed();  // something came, moved on or ended
  void failed(const QString& sentence);
  /// A newer request of the same slot takes the place of one that was running.
  void replaced(const QString& name);

 private:
  struct Landing {
    std::function<void()> land;
    std::optional<base::Error> error;
  };
  using Flight = std::function<Landing(base::Executor&, const base::Progress&)>;
  struct Piece {
    quint64 id;
    Name name;
    Flight flight;
    std::stop_source stop;
    bool runs = false;
    double share = 0;
    qint64 startedMs = 0;
  };
  void enqueue(const Name& name, Flight flight);
  void drop(const std::function<bool(const Piece&)>& which);
  void runNext();
  void takeShare();
  void takeLandings();
  void end(quint64 id, const Landing& landing);

  QThreadPool& pool_;
  base::Executor& executor_;
  std::vector<Piece> queue_;  // UI thread only; the first one runs
  quint64 count_ = 0;
  // In the air: what was stopped may still be on its way to notice.
  std::mutex mutex_;
  std::condition_variable landed_;
  int flights_ = 0;
  // From the threads to the window, under the mutex.
  std::pair<quint64, double> share_;  // which piece, and how far it is
  std::vector<std::pair<quint64, Landing>> landings_;
};

}  // namespace hseam::app
