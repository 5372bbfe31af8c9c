#include "app/document/session.h"

#include <QDateTime>

#include "core/base/log.h"
#include "core/scene/stale.h"

namespace hseam::app {

Session::Session(std::shared_ptr<image::TileMemory> memory, Messages& messages, QObject* parent)
    : QObject(parent), memory_(std::move(memory)), messages_(messages), history_(scene::Step{}) {}

void Session::take(scene::History history, Keeping keeping, const QString& onlyLooking) {
  history_ = std::move(history);
  keeping_ = std::move(keeping);
  onlyLooking_ = onlyLooking;
  draft_.reset();
  active_ = {};
  beside_.clear();
  lockTold_ = false;
  settleActive();
  emit replaced();
  emitAll();
}

void Session::emitAll() {
  emit sceneChanged();
  emit historyChanged();
  emit activeChanged();
}

// What a locked layer says when something would change it; empty if nothing would.
QString Session::lockedWords(const scene::Edit& edit) const {
  for (const scene::LayerId id : scene::changedLayers(edit)) {
    if (const scene::Layer* lock = scene::lockOn(scene(), id))
      return tr("%1 is locked. Untick \"locked\" on its card in the sheet to change it.").arg(QString::fromStdString(lock->name));
  }
  return {};
}

std::vector<scene::LayerId> Session::inHand() const {
  std::vector<scene::LayerId> all;
  if (active_.value != 0) all.push_back(active_);
  for (const scene::LayerId id : beside_) {
    if (id != active_ && scene::findLayer(scene(), id)) all.push_back(id);
  }
  return all;
}

void Session::toggleInHand(scene::LayerId layer) {
  if (layer == active_ || !scene::findLayer(scene(), layer)) return;
  if (std::erase(beside_, layer) == 0) beside_.push_back(layer);
  emit activeChanged();
}

bool Session::apply(const scene::Edit& edit) {
  if (onlyLooking()) {
    draft(std::nullopt);
    emit messages_.refused(onlyLooking_);
    return false;
  }
  if (const QString locked = lockedWords(edit); !locked.isEmpty()) {
    draft(std::nullopt);
    emit messages_.refused(locked);
    return false;
  }
  auto next = scene::apply(history_.scene(), edit);
  const bool hadDraft = draft_.has_value();
  draft_.reset();
  if (!next.ok()) {
    if (hadDraft) emit sceneChanged();
    emit messages_.refused(QString::fromStdString(next.error().text()));
    return false;
  }
  const int after = history_.current();
  scene::Step step{std::move(next).value(), scene::describe(history_.scene(), edit), QDateTime::currentMSecsSinceEpoch(),
                   scene::editKind(edit)};
  base::log(base::LogLevel::debug, step.label);
  if (keeping_.step) keeping_.step(step, after);
  history_.push(std::move(step));
  if (const auto* added = std::get_if<scene::AddLayer>(&edit)) active_ = added->layer.id;
  if (const auto* grouped = std::get_if<scene::GroupLayers>(&edit)) active_ = grouped->newId;
  settleActive();
  emitAll();
  return true;
}

void Session::draft(const std::optional<scene::Edit>& edit) {
  if (!edit) {
    lockTold_ = false;
    if (!draft_) return;
    draft_.reset();
  } else {
    if (const QString locked = lockedWords(*edit); !locked.isEmpty()) {
      if (!lockTold_) emit messages_.refused(locked);
      lockTold_ = true;
      return;
    }
    auto next = scene::apply(history_.scene(), *edit);
    if (!next.ok()) return;  // a gesture passes through values that cannot be; the last one that can stays shown
    draft_ = std::move(next).value();
  }
  emit sceneChanged();
}

void Session::undo() {
  if (history_.canUndo()) goTo(history_.current() - 1);
}

void Session::redo() {
  if (history_.canRedo()) goTo(history_.current() + 1);
}

void Session::goTo(int step) {
  draft_.reset();
  if (const base::Status gone = history_.goTo(step); !gone.ok()) {
    emit messages_.refused(tr("This step cannot be gone back to: %1").arg(QString::fromStdString(gone.error().text())));
    return;
  }
  if (!onlyLooking() && keeping_.wentTo) keeping_.wentTo(step);
  settleActive();
  emitAll();
}

void Session::setActive(scene::LayerId layer) {
  if (!scene::findLayer(scene(), layer) || (layer == active_ && beside_.empty())) return;
  active_ = layer;
  beside_.clear();
  emit activeChanged();
}

// A layer that is gone hands over to the front picture: that is what there is to do something with.
void Session::settleActive() {
  if (scene::findLayer(scene(), active_)) return;
  active_ = scene().layers.empty() ? scene::LayerId{} : scene().layers.back()->id;
  for (const auto& l : scene().layers) {
    if (l->picture()) active_ = l->id;
  }
}

bool Session::applyResult(const scene::Edit& edit, const scene::Scene& from) {
  const auto changed = scene::changedMeanwhile(from, scene(), edit);
  if (!changed) return apply(edit);
  emit messages_.refused(
      changed->empty()
          ? tr("The scene was changed while this was worked out: what you did stays, and the outcome is dropped. Do it again.")
          : tr("%1 was changed while this was worked out: what you did stays, and the outcome is dropped. Do it again.")
                .arg(QString::fromStdString(*changed)));
  return false;
}

}  // namespace hseam::app
