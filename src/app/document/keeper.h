#pragma once
// The thread that writes. Whatever reaches it is written in order; the window never waits for a disk.

#include <QObject>
#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

#include "core/store/project_file.h"

namespace hseam::app {

class Keeper : public QObject {
  Q_OBJECT

 public:
  explicit Keeper(std::unique_ptr<store::ProjectFile> file, QObject* parent = nullptr);
  /// Writes what is left, then closes the file.
  ~Keeper() override;
  /// Runs on the writing thread, in order. Its outcome comes back through kept or failed.
  using Work = std::function<base::Status(store::ProjectFile&)>;
  void post(Work work);
  /// Waits until all that was posted is done. For closing, saving as, and tests.
  void flush();

 signals:
  void kept();
  void failed(const QString& sentence);

 private:
  void run(const std::stop_token& stop);
  std::unique_ptr<store::ProjectFile> file_;
  std::mutex mutex_;
  std::condition_variable_any wake_, idle_;
  std::deque<Work> queue_;
  bool busy_ = false;
  std::jthread thread_;
};

}  // namespace hseam::app
