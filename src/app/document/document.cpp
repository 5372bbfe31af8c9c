#include "app/document/document.h"

namespace hseam::app {

Document::Document(std::unique_ptr<store::ProjectFile> file, QObject* parent)
    : QObject(parent),
      path_(QString::fromStdString(file->path())),
      keptAt_(QDateTime::currentDateTime()),
      keeper_(std::move(file)) {
  connect(&keeper_, &Keeper::changed, this, &Document::readWaiting, Qt::QueuedConnection);
}

void Document::keepStep(const scene::Step& step, int after) {
  keeper_.keep([step, after](store::ProjectFile& file) { return file.keep(step, step.kind, after); });
}

void Document::keepCurrent(int step) {
  keeper_.keep([step](store::ProjectFile& file) { return file.setCurrent(step); });
}

void Document::readWaiting() {
  const Keeper::Waiting waiting = keeper_.waiting();
  if (waiting.why.isEmpty()) {
    if (waiting.steps == 0) keptAt_ = QDateTime::currentDateTime();
    failureTold_ = false;
  } else if (!failureTold_) {
    failureTold_ = true;
    emit refused(tr("What was done last is not on the disk yet: %1. Nothing is lost: the work goes on, and it is tried again by "
                    "itself. Naming the project elsewhere (Ctrl+S) helps if this disk is full.")
                     .arg(waiting.why));
  }
  emit keptChanged();
}

void Document::moveTo(const QString& path, store::ProjectFile::Old old, Keeper::Told told) {
  keeper_.post([path, old](store::ProjectFile& file) { return file.moveTo(path.toStdString(), old); },
               [this, path, told = std::move(told)](const base::Status& done) {
                 if (done.ok()) {
                   path_ = path;
                   emit pathChanged();
                 }
                 told(done);
               });
}

}  // namespace hseam::app
