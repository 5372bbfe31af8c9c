// Looking after the open project's file: copies, archives, slimmed copies.

#include <QFileInfo>
#include <QLocale>

#include "app/document/desk.h"
#include "core/store/slim.h"

namespace hseam::app {

void Desk::saveCopy(const QString& path) {
  document_->post([this, path](store::ProjectFile& file) {
    const base::Status done = file.copyTo(path.toStdString());
    if (done.ok())
      QMetaObject::invokeMethod(
          this, [this, path] { emit said(tr("A copy is at %1; the work goes on in %2").arg(path, title())); },
          Qt::QueuedConnection);
    return done;
  });
}

void Desk::archive(const QString& path) {
  emit said(tr("Packing %1…").arg(QFileInfo(path).fileName()));
  document_->post([this, path](store::ProjectFile& file) {
    const base::Status done = store::archiveTo(file, path.toStdString(), {});
    if (done.ok())
      QMetaObject::invokeMethod(
          this,
          [this, path] {
            emit said(tr("Packed with every source: %1, %2").arg(path, QLocale().formattedDataSize(QFileInfo(path).size())));
          },
          Qt::QueuedConnection);
    return done;
  });
}

void Desk::askSlimReport() {
  document_->post([this, s = scene()](store::ProjectFile& file) -> base::Status {
    HSEAM_TRY(const store::SlimReport r, store::slimReport(file, s));
    QString words = tr("A slimmed copy drops %1 steps to go back to: %2 become %3.")
                        .arg(r.steps)
                        .arg(QLocale().formattedDataSize(r.bytesNow), QLocale().formattedDataSize(r.bytesThen));
    if (!r.sources.empty()) {
      QStringList names;
      for (const std::string& n : r.sources) names << QString::fromStdString(n);
      words += tr(" Sources that no layer shows go too: %1.").arg(names.join(QStringLiteral(", ")));
    }
    QMetaObject::invokeMethod(
        this, [this, words] { emit slimReported(words); }, Qt::QueuedConnection);
    return {};
  });
}

void Desk::slim(const QString& path) {
  document_->post([this, path, s = scene()](store::ProjectFile& file) {
    const base::Status done = store::slimTo(file, s, path.toStdString());
    if (done.ok())
      QMetaObject::invokeMethod(
          this,
          [this, path] {
            emit said(tr("A slimmed copy is at %1, %2; this project keeps everything")
                          .arg(path, QLocale().formattedDataSize(QFileInfo(path).size())));
          },
          Qt::QueuedConnection);
    return done;
  });
}

}  // namespace hseam::app
