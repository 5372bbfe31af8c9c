#include "app/document/lane.h"

#include <QDateTime>
#include <QMetaObject>
#include <algorithm>

#include "app/document/courtesy.h"
#include "core/base/log.h"

namespace hseam::app {

Lane::Lane(QThreadPool& pool, base::Executor& executor, QObject* parent) : QObject(parent), pool_(pool), executor_(executor) {}

Lane::~Lane() {
  for (Piece& p : queue_) p.stop.request_stop();
  std::unique_lock lock(mutex_);
  landed_.wait(lock, [this] { return flights_ == 0; });
}

void Lane::enqueue(const Name& name, Flight flight) {
  const bool ran = !queue_.empty() && queue_.front().name.slot == name.slot;
  drop([&](const Piece& p) { return p.name.slot == name.slot; });
  queue_.push_back({++count_, name, std::move(flight), {}});
  runNext();
  if (ran) emit replaced(name.name);
  emit changed();
}

void Lane::runNext() {
  if (queue_.empty() || queue_.front().runs) return;
  Piece& piece = queue_.front();
  piece.runs = true;
  piece.startedMs = QDateTime::currentMSecsSinceEpoch();
  {
    const std::lock_guard lock(mutex_);
    ++flights_;
  }
  pool_.start([this, id = piece.id, name = piece.name.name, flight = std::move(piece.flight), stop = piece.stop.get_token()] {
    lowerPriority();
    const base::Progress progress(stop, [this, id](double share) {
      {
        const std::lock_guard lock(mutex_);
        share_ = {id, share};
      }
      QMetaObject::invokeMethod(this, &Lane::takeShare, Qt::QueuedConnection);
    });
    Landing landing = [&]() -> Landing {
      try {
        return flight(executor_, progress);
      } catch (...) {
        return {{}, base::caught(name.toStdString())};
      }
    }();
    {
      const std::lock_guard lock(mutex_);
      landings_.emplace_back(id, std::move(landing));
    }
    QMetaObject::invokeMethod(this, &Lane::takeLandings, Qt::QueuedConnection);
    const std::lock_guard lock(mutex_);
    --flights_;
    landed_.notify_all();
  });
}

void Lane::takeShare() {
  std::pair<quint64, double> now;
  {
    const std::lock_guard lock(mutex_);
    now = share_;
  }
  if (queue_.empty() || queue_.front().id != now.first || now.second <= queue_.front().share) return;
  queue_.front().share = now.second;
  emit changed();
}

void Lane::takeLandings() {
  std::vector<std::pair<quint64, Landing>> landings;
  {
    const std::lock_guard lock(mutex_);
    landings.swap(landings_);
  }
  for (const auto& [id, landing] : landings) end(id, landing);
}

void Lane::end(quint64 id, const Landing& landing) {
  if (queue_.empty() || queue_.front().id != id) return;  // it was stopped
  base::log(base::LogLevel::debug, queue_.front().name.name.toStdString() + ": " +
                                       std::to_string(QDateTime::currentMSecsSinceEpoch() - queue_.front().startedMs) + " ms");
  queue_.erase(queue_.begin());
  runNext();
  emit changed();
  if (!landing.error) {
    landing.land();
  } else if (landing.error->code != base::Code::cancelled) {
    emit failed(QString::fromStdString(landing.error->text()));
  }
}

std::vector<Lane::Entry> Lane::entries() const {
  std::vector<Entry> all;
  for (const Piece& p : queue_) {
    const double spent = double(QDateTime::currentMSecsSinceEpoch() - p.startedMs) / 1000;
    all.push_back({p.id, p.name.name, p.runs, p.share, p.share > 0.05 ? spent / p.share * (1 - p.share) : -1});
  }
  return all;
}

void Lane::drop(const std::function<bool(const Piece&)>& which) {
  for (Piece& p : queue_) {
    if (which(p)) p.stop.request_stop();
  }
  std::erase_if(queue_, [](const Piece& p) { return p.stop.stop_requested(); });
}

void Lane::stop(quint64 id) {
  drop([&](const Piece& p) { return p.id == id; });
  runNext();
  emit changed();
}

void Lane::stopSlots(const QString& prefix) {
  if (queue_.empty()) return;
  drop([&](const Piece& p) { return p.name.slot.startsWith(prefix); });
  runNext();
  emit changed();
}

}  // namespace hseam::app
