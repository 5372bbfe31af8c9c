#pragma once
// The open project as the window sees it: the current scene, its history, the active layer, and the draft of a gesture.

#include <QDateTime>
#include <QObject>
#include <QString>
#include <optional>
#include <vector>

#include "app/document/keeper.h"
#include "core/scene/edit.h"
#include "core/scene/history.h"

namespace hseam::app {

class Document : public QObject {
  Q_OBJECT

 public:
  /// onlyLooking: why nothing can be changed, as a sentence; empty if it can.
  explicit Document(store::ProjectFile::Opened opened, const QString& onlyLooking = {}, QObject* parent = nullptr);

  /// The scene as kept; the draft is not in it.
  const scene::Scene& scene() const { return history_.scene(); }
  /// What to show: the draft if there is one.
  const scene::Scene& shown() const { return draft_ ? *draft_ : history_.scene(); }
  const scene::History& history() const { return history_; }
  scene::LayerId active() const { return active_; }
  /// All layers in hand, the active one first: what moves, hides or goes, they do together.
  std::vector<scene::LayerId> inHand() const;
  /// Takes a layer in hand beside the active one, or lets it go.
  void toggleInHand(scene::LayerId layer);
  /// The active layer in the kept scene; null if there is none.
  const scene::Layer* activeLayer() const { return scene::findLayer(scene(), active_); }
  QString path() const { return path_; }
  QDateTime keptAt() const { return keptAt_; }
  bool allKept() const { return keeper_.waiting().steps == 0; }
  /// Steps that are not on the disk yet, and why if the disk refused one.
  Keeper::Waiting waiting() const { return keeper_.waiting(); }
  void tryAgain() { keeper_.tryAgain(); }
  void giveUp() { keeper_.giveUp(); }
  bool onlyLooking() const { return !onlyLooking_.isEmpty(); }

  /// Applies, keeps and shows an Edit; an error is told through `refused` and changes nothing.
  bool apply(const scene::Edit& edit);
  /// Shows the scene with an Edit applied without keeping it: for gestures. nothing = back to the kept scene.
  void draft(const std::optional<scene::Edit>& edit);
  void undo();
  void redo();
  void setActive(scene::LayerId layer);
  /// What belongs to a step that follows (a source file): it must get into the file, before it.
  void keep(Keeper::Work work) { keeper_.keep(std::move(work)); }
  /// Work on the file, once, at its turn.
  void post(Keeper::Work work, Keeper::Told told) { keeper_.post(std::move(work), std::move(told)); }
  /// A copy of everything, the steps that wait included.
  void copy(const QString& path, Keeper::Told told) { keeper_.copyAll(path, std::move(told)); }
  /// The project moves to `path`, with all that comes after: history, selections and views stay. `told` once it has.
  void moveTo(const QString& path, store::ProjectFile::Old old, Keeper::Told told);
  /// Waits until everything is on the disk, or is known to fail. True: everything is.
  bool flush() { return keeper_.flush(); }

 signals:
  void sceneChanged();    // shown() is another scene
  void historyChanged();  // a step was made, undone or redone
  void activeChanged();
  void keptChanged();
  void pathChanged();
  void refused(const QString& sentence);

 private:
  void goTo(int step);
  void readWaiting();
  QString lockedWords(const scene::Edit& edit) const;
  void settleActive();
  scene::History history_;
  std::optional<scene::Scene> draft_;
  scene::LayerId active_;
  std::vector<scene::LayerId> beside_;  // in hand with the active one
  QString path_;
  QDateTime keptAt_;
  QString onlyLooking_;
  bool failureTold_ = false;
  bool lockTold_ = false;  // in this gesture
  Keeper keeper_;
};

}  // namespace hseam::app
