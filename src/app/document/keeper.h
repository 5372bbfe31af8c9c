#pragma once
// The thread that writes. Whatever reaches it is written in order; the window never waits for a disk.

#include <QElapsedTimer>
#include <QObject>
#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

#include "core/store/project_file.h"

namespace hseam::app {

/// Steps must get into the file, each after the one before it: what fails is tried again, by itself after a while, and nothing
/// later is written before. Other work on the file (copies, reports) happens once, at its turn, or before steps that wait.
class Keeper : public QObject {
  Q_OBJECT

 public:
  explicit Keeper(std::unique_ptr<store::ProjectFile> file, QObject* parent = nullptr);
  /// Writes what is left, if it can be, then closes the file.
  ~Keeper() override;

  using Work = std::function<base::Status(store::ProjectFile&)>;
  using Told = std::function<void(const base::Status&)>;
  /// Work that must be done, the same each time it is tried.
  void keep(Work work);
  /// Work that is done once. `told` is called on the thread of this object, unless it is gone by then.
  void post(Work work, Told told);
  /// A copy at `path` of all that was done, the steps that wait to be written included.
  void copyAll(const QString& path, Told told);

  struct Waiting {
    int steps = 0;  // not on the disk yet
    QString why;    // why the first of them could not be written; empty: nothing failed
  };
  Waiting waiting() const;
  void tryAgain();
  /// Forgets the steps that wait.
  void giveUp();
  /// Until all is written, or is known to fail now as well. True: nothing waits.
  bool flush();

 signals:
  void changed();  // waiting() is another

 private:
  struct Entry {
    Work work;
    Told told;  // null: it must be done
    std::uint64_t number = 0;
  };
  void run(const std::stop_token& stop);
  std::deque<Entry>::iterator next();
  base::Status copyWithWaiting(store::ProjectFile& file, const QString& path);
  void answer(const Told& told, const base::Status& done);

  std::unique_ptr<store::ProjectFile> file_;
  mutable std::mutex mutex_;
  std::condition_variable_any wake_, idle_;
  std::deque<Entry> queue_;
  std::uint64_t entries_ = 0;
  bool busy_ = false;
  int steps_ = 0;  // of the queue, and the one that is being written
  QString why_;
  int failures_ = 0;  // in a row
  bool again_ = false;
  std::chrono::steady_clock::time_point retryAt_;
  std::jthread thread_;
};

}  // namespace hseam::app
