#pragma once
// Long work off the UI thread, one piece at a time, with progress and cancel. The one bridge from the core's results.

#include <QObject>
#include <functional>
#include <map>
#include <memory>
#include <stop_token>
#include <thread>

#include "core/base/executor.h"
#include "core/base/progress.h"

namespace hseam::app {

class Jobs : public QObject {
  Q_OBJECT

 public:
  explicit Jobs(QObject* parent = nullptr);
  ~Jobs() override;
  base::Executor& executor() { return *executor_; }

  /// Runs `work` on a worker; `done` gets its result on the UI thread, errors go to `failed` (a cancelled job to nobody).
  /// A job that is still running is cancelled first: the latest request wins.
  template <class T>
  void start(const QString& name, std::function<base::Result<T>(base::Executor&, const base::Progress&)> work,
             std::function<void(T)> done) {
    launch(name,
           [work = std::move(work), done = std::move(done)](base::Executor& executor, const base::Progress& progress) -> Landing {
             auto result = work(executor, progress);
             if (!result.ok()) return {{}, result.error()};
             auto value = std::make_shared<T>(std::move(result).value());
             return {[done, value] { done(std::move(*value)); }, {}};
           });
  }
  void cancel();
  /// Cancels, and what a job has just finished is not handed over any more.
  void abandon();
  bool running() const { return running_; }
  QString name() const { return name_; }
  /// 0..1 of the running job.
  double share() const { return share_; }
  /// Estimated time left; negative while unknown.
  double secondsLeft() const;

 signals:
  void changed();  // started, moved on or ended
  void failed(const QString& sentence);

 private:
  struct Landing {
    std::function<void()> land;
    std::optional<base::Error> error;
  };
  using Flight = std::function<Landing(base::Executor&, const base::Progress&)>;
  void launch(const QString& name, Flight flight);
  void end(int generation, const Landing& landing);

  std::unique_ptr<base::Executor> executor_;
  std::map<int, std::jthread> threads_;  // by generation; cancelled ones stay until they have noticed
  QString name_;
  bool running_ = false;
  double share_ = 0;
  qint64 startedMs_ = 0;
  int generation_ = 0;
};

}  // namespace hseam::app
