#include "app/contact/thumbnail_loader.h"

#include <QStandardPaths>
#include <QThread>

#include "app/document/machine_settings.h"
#include "app/widgets/raster_image.h"

namespace hseam::app {

ThumbnailLoader::ThumbnailLoader(QObject* parent)
    : QObject(parent), pictures_(qsizetype(base::chosenFor(machineSettings()).thumbnailBytes)) {
  pool_.setMaxThreadCount(std::max(1, QThread::idealThreadCount()));
  shared_->kept =
      std::make_unique<store::Thumbnails>(QStandardPaths::writableLocation(QStandardPaths::CacheLocation).toStdString());
}

ThumbnailLoader::~ThumbnailLoader() {
  {
    const std::lock_guard lock(shared_->mutex);
    shared_->ended = true;
    shared_->queue.clear();
  }
  pool_.waitForDone();
}

QImage ThumbnailLoader::get(const QString& path) {
  if (const QImage* known = pictures_.object(path)) return *known;
  if (asked_.contains(path) || problems_.contains(path)) return {};
  asked_.insert(path);
  {
    const std::lock_guard lock(shared_->mutex);
    shared_->queue.push_front(path);
  }
  work();
  return {};
}

void ThumbnailLoader::forgetWaiting() {
  const std::lock_guard lock(shared_->mutex);
  for (const QString& path : shared_->queue) asked_.remove(path);
  shared_->queue.clear();
}

void ThumbnailLoader::work() {
  if (pool_.activeThreadCount() >= pool_.maxThreadCount()) return;
  pool_.start([this, shared = shared_] {
    for (;;) {
      QString path;
      {
        const std::lock_guard lock(shared->mutex);
        if (shared->ended || shared->queue.empty()) return;
        path = shared->queue.front();
        shared->queue.pop_front();
      }
      const auto made = shared->kept->of(path.toStdString(), kLongest);
      const QImage image = made.ok() ? imageOf(*made) : QImage();
      const QString problem = made.ok() ? QString() : QString::fromStdString(made.error().detail);
      QMetaObject::invokeMethod(
          this,
          [this, path, image, problem] {
            asked_.remove(path);
            if (image.isNull())
              problems_.insert(path, problem);
            else
              pictures_.insert(path, new QImage(image), int(image.sizeInBytes()));
            emit ready(path);
          },
          Qt::QueuedConnection);
    }
  });
}

}  // namespace hseam::app
