#pragma once

#include <QCache>
#include <QImage>
#include <QObject>
#include <QSet>
#include <QThreadPool>
#include <deque>
#include <memory>
#include <mutex>

#include "core/store/thumbnails.h"

namespace hseam::app {

/// Small pictures of files, several threads at a time; what was asked for last comes first. UI thread only.
class ThumbnailLoader : public QObject {
  Q_OBJECT

 public:
  static constexpr int kLongest = 160;  // px: what cameras leave in their files
  explicit ThumbnailLoader(QObject* parent = nullptr);
  ~ThumbnailLoader() override;
  /// Null until it is there; then it comes, and ready() tells. Of a file that does not read: a null picture, and problem() says
  /// why.
  QImage get(const QString& path);
  QString problem(const QString& path) const { return problems_.value(path); }
  /// How many are still asked for.
  int waiting() const { return int(asked_.size()); }
  /// What was asked for and has not begun is left out.
  void forgetWaiting();

 signals:
  void ready(const QString& path);

 private:
  struct Shared {
    std::mutex mutex;
    std::deque<QString> queue;
    bool ended = false;
    std::unique_ptr<store::Thumbnails> kept;
  };
  void work();
  QThreadPool pool_;
  std::shared_ptr<Shared> shared_ = std::make_shared<Shared>();
  QCache<QString, QImage> pictures_;  // cost: bytes
  QSet<QString> asked_;
  QHash<QString, QString> problems_;
};

}  // namespace hseam::app
