#include "app/document/jobs.h"

#include <QDateTime>
#include <QMetaObject>

#include "app/document/courtesy.h"

namespace hseam::app {

Jobs::Jobs(QObject* parent) : QObject(parent), executor_(base::makePool(0)) {}

Jobs::~Jobs() {
  for (auto& [generation, thread] : threads_) thread.request_stop();
  threads_.clear();
}

void Jobs::launch(const QString& name, Flight flight) {
  cancel();
  name_ = name;
  running_ = true;
  share_ = 0;
  startedMs_ = QDateTime::currentMSecsSinceEpoch();
  const int generation = ++generation_;
  threads_[generation] = std::jthread([this, generation, name, flight = std::move(flight)](std::stop_token stop) {
    lowerPriority();
    const base::Progress progress(std::move(stop), [this, generation](double share) {
      QMetaObject::invokeMethod(
          this,
          [this, generation, share] {
            if (generation != generation_ || !running_ || share <= share_) return;
            share_ = share;
            emit changed();
          },
          Qt::QueuedConnection);
    });
    const Landing landing = [&]() -> Landing {
      try {
        return flight(*executor_, progress);
      } catch (...) {
        return {{}, base::caught(name.toStdString())};
      }
    }();
    QMetaObject::invokeMethod(
        this, [this, generation, landing] { end(generation, landing); }, Qt::QueuedConnection);
  });
  emit changed();
}

void Jobs::end(int generation, const Landing& landing) {
  threads_.erase(generation);  // it has nothing left to do, so that joining it does not wait
  if (generation != generation_) return;
  running_ = false;
  emit changed();
  if (landing.error) {
    if (landing.error->code != base::Code::cancelled) emit failed(QString::fromStdString(landing.error->text()));
    return;
  }
  landing.land();
}

void Jobs::cancel() {
  for (auto& [generation, thread] : threads_) thread.request_stop();
}

void Jobs::abandon() {
  cancel();
  ++generation_;
  if (!running_) return;
  running_ = false;
  emit changed();
}

double Jobs::secondsLeft() const {
  const double spent = double(QDateTime::currentMSecsSinceEpoch() - startedMs_) / 1000;
  return share_ > 0.05 ? spent / share_ * (1 - share_) : -1;
}

}  // namespace hseam::app
