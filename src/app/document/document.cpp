#include "app/document/document.h"

namespace hseam::app {

Document::Document(store::ProjectFile::Opened opened, const QString& onlyLooking, QObject* parent)
    : QObject(parent),
      history_(std::move(opened.history)),
      path_(QString::fromStdString(opened.file->path())),
      keptAt_(QDateTime::currentDateTime()),
      onlyLooking_(onlyLooking),
      keeper_(std::move(opened.file)) {
  connect(&keeper_, &Keeper::changed, this, &Document::readWaiting, Qt::QueuedConnection);
  settleActive();
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

// What a locked layer says when something would change it; empty if nothing would.
QString Document::lockedWords(const scene::Edit& edit) const {
  for (const scene::LayerId id : scene::changedLayers(edit)) {
    if (const scene::Layer* lock = scene::lockOn(scene(), id))
      return tr("%1 is locked. Untick \"locked\" on its card in the sheet to change it.").arg(QString::fromStdString(lock->name));
  }
  return {};
}

std::vector<scene::LayerId> Document::inHand() const {
  std::vector<scene::LayerId> all;
  if (active_.value != 0) all.push_back(active_);
  for (const scene::LayerId id : beside_) {
    if (id != active_ && scene::findLayer(scene(), id)) all.push_back(id);
  }
  return all;
}

void Document::toggleInHand(scene::LayerId layer) {
  if (layer == active_ || !scene::findLayer(scene(), layer)) return;
  if (std::erase(beside_, layer) == 0) beside_.push_back(layer);
  emit activeChanged();
}

bool Document::apply(const scene::Edit& edit) {
  if (onlyLooking()) {
    draft(std::nullopt);
    emit refused(onlyLooking_);
    return false;
  }
  if (const QString locked = lockedWords(edit); !locked.isEmpty()) {
    draft(std::nullopt);
    emit refused(locked);
    return false;
  }
  auto next = scene::apply(history_.scene(), edit);
  const bool hadDraft = draft_.has_value();
  draft_.reset();
  if (!next.ok()) {
    if (hadDraft) emit sceneChanged();
    emit refused(QString::fromStdString(next.error().text()));
    return false;
  }
  const int after = history_.current();
  scene::Step step{std::move(next).value(), scene::describe(history_.scene(), edit), QDateTime::currentMSecsSinceEpoch(),
                   scene::editKind(edit)};
  keeper_.keep([step, after](store::ProjectFile& file) { return file.keep(step, step.kind, after); });
  history_.push(std::move(step));
  if (const auto* added = std::get_if<scene::AddLayer>(&edit)) active_ = added->layer.id;
  if (const auto* grouped = std::get_if<scene::GroupLayers>(&edit)) active_ = grouped->newId;
  settleActive();
  emit sceneChanged();
  emit historyChanged();
  emit activeChanged();
  return true;
}

void Document::draft(const std::optional<scene::Edit>& edit) {
  if (!edit) {
    lockTold_ = false;
    if (!draft_) return;
    draft_.reset();
  } else {
    if (const QString locked = lockedWords(*edit); !locked.isEmpty()) {
      if (!lockTold_) emit refused(locked);
      lockTold_ = true;
      return;
    }
    auto next = scene::apply(history_.scene(), *edit);
    if (!next.ok()) return;  // a gesture passes through values that cannot be; the last one that can stays shown
    draft_ = std::move(next).value();
  }
  emit sceneChanged();
}

void Document::undo() {
  if (history_.canUndo()) goTo(history_.current() - 1);
}

void Document::redo() {
  if (history_.canRedo()) goTo(history_.current() + 1);
}

void Document::goTo(int step) {
  draft_.reset();
  if (const base::Status gone = history_.goTo(step); !gone.ok()) {
    emit refused(tr("This step cannot be gone back to: %1").arg(QString::fromStdString(gone.error().text())));
    return;
  }
  if (!onlyLooking()) keeper_.keep([step](store::ProjectFile& file) { return file.setCurrent(step); });
  settleActive();
  emit sceneChanged();
  emit historyChanged();
  emit activeChanged();
}

void Document::setActive(scene::LayerId layer) {
  if (!scene::findLayer(scene(), layer) || (layer == active_ && beside_.empty())) return;
  active_ = layer;
  beside_.clear();
  emit activeChanged();
}

// A layer that is gone hands over to the front picture: that is what there is to do something with.
void Document::settleActive() {
  if (scene::findLayer(scene(), active_)) return;
  active_ = scene().layers.empty() ? scene::LayerId{} : scene().layers.back()->id;
  for (const auto& l : scene().layers) {
    if (l->picture()) active_ = l->id;
  }
}

}  // namespace hseam::app
