// Looking after the open project's file: copies, archives, slimmed copies.

#include <QFileInfo>
#include <QLocale>

#include "app/document/workspace.h"
#include "core/store/slim.h"

namespace hseam::app {

namespace {

QString sizeOf(const QString& path) {
  return QLocale().formattedDataSize(QFileInfo(path).size());
}

}  // namespace

// Says `words` once the work is done, or why it could not be.
Keeper::Told Workspace::sayWhenDone(const std::function<QString()>& words) {
  return [this, words](const base::Status& done) {
    if (done.ok()) {
      said(words());
    } else {
      refused(QString::fromStdString(done.error().text()));
    }
  };
}

void Workspace::saveCopy(const QString& path) {
  document_->copy(path, sayWhenDone([this, path] { return tr("A copy is at %1; the work goes on in %2").arg(path, title()); }));
}

void Workspace::archive(const QString& path) {
  said(tr("Packing %1…").arg(QFileInfo(path).fileName()));
  document_->post([path](store::ProjectFile& file) { return store::archiveTo(file, path.toStdString(), {}); },
                  sayWhenDone([path] { return tr("Packed with every source: %1, %2").arg(path, sizeOf(path)); }));
}

void Workspace::askSlimReport() {
  const auto report = std::make_shared<store::SlimReport>();
  document_->post(
      [report, s = scene()](store::ProjectFile& file) -> base::Status {
        HSEAM_TRY(*report, store::slimReport(file, s));
        return {};
      },
      [this, report](const base::Status& done) {
        if (!done.ok()) {
          refused(QString::fromStdString(done.error().text()));
          return;
        }
        const auto size = [](std::int64_t bytes) { return QLocale().formattedDataSize(bytes); };
        QString words = tr("A slimmed copy drops %1 steps to go back to: %2 become %3.")
                            .arg(report->steps)
                            .arg(size(report->bytesNow), size(report->bytesThen));
        if (!report->sources.empty()) {
          QStringList names;
          for (const std::string& n : report->sources) names << QString::fromStdString(n);
          words += tr(" Sources that no layer shows go too: %1.").arg(names.join(QStringLiteral(", ")));
        }
        emit slimReported(words);
      });
}

void Workspace::slim(const QString& path) {
  document_->post(
      [path, s = scene()](store::ProjectFile& file) { return store::slimTo(file, s, path.toStdString()); },
      sayWhenDone([path] { return tr("A slimmed copy is at %1, %2; this project keeps everything").arg(path, sizeOf(path)); }));
}

}  // namespace hseam::app
