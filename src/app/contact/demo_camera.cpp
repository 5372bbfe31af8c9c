#include "app/contact/demo_camera.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>

#include "core/base/resources.h"

namespace hseam::app {
namespace {

const QString kPrefix = QStringLiteral("SHOT_");

}  // namespace

DemoCamera::DemoCamera(QObject* parent) : QObject(parent) {
  connect(&next_, &QTimer::timeout, this, &DemoCamera::shoot);
}

QStringList DemoCamera::shots() {
  const QString pictures = QString::fromStdString(base::resourcePath("demo")) + QStringLiteral("/pictures");
  QStringList all;
  for (const QString& folder : {pictures, pictures + QStringLiteral("/frames")}) {
    for (const QString& name : QDir(folder).entryList({QStringLiteral("*.jpg")}, QDir::Files, QDir::Name)) {
      // Beside photographs lies what is known of them; what else the renderer gave is no shot.
      const bool shot = folder != pictures ||
                        QFile::exists(folder + QLatin1Char('/') + QFileInfo(name).completeBaseName() + QStringLiteral(".json"));
      if (shot) all << folder + QLatin1Char('/') + name;
    }
  }
  return all;
}

void DemoCamera::begin(const QString& folder, int msBetween) {
  folder_ = folder;
  left_ = shots();
  number_ = 0;
  if (!QDir().mkpath(folder)) {
    emit refused(tr("The folder %1 cannot be made").arg(folder));
    return;
  }
  QDir dir(folder);
  for (const QString& old : dir.entryList({kPrefix + QLatin1Char('*')}, QDir::Files)) dir.remove(old);
  next_.start(msBetween);
  shoot();
}

void DemoCamera::shoot() {
  if (left_.isEmpty()) {
    end();
    emit ended();
    return;
  }
  const QString name = QStringLiteral("%1%2.jpg").arg(kPrefix).arg(++number_, 4, 10, QLatin1Char('0')),
                path = QDir(folder_).filePath(name), part = path + QStringLiteral(".part");
  QFile::remove(part);
  // Nobody sees half of it.
  if (!QFile::copy(left_.takeFirst(), part) || !QFile::rename(part, path)) {
    QFile::remove(part);
    end();
    emit refused(tr("The demo camera cannot write into %1").arg(folder_));
    return;
  }
  QFile::setPermissions(path, QFile::permissions(path) | QFile::WriteOwner);
  emit shot(path);
}

}  // namespace hseam::app
