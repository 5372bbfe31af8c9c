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
  explicit Document(store::ProjectFile::Opened opened, QObject* parent = nullptr);

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
  bool allKept() const { return waiting_ == 0; }

  /// Applies, keeps and shows an Edit; an error is told through `refused` and changes nothing.
  bool apply(const scene::Edit& edit);
  /// Shows the scene with an Edit applied without keeping it: for gestures. nothing = back to the kept scene.
  void draft(const std::optional<scene::Edit>& edit);
  void undo();
  void redo();
  void setActive(scene::LayerId layer);
  /// Work on the file in order with the keeping of Edits.
  void post(Keeper::Work work) { keeper_.post(std::move(work)); }
  /// Waits until everything is on the disk.
  void flush() { keeper_.flush(); }

 signals:
  void sceneChanged();    // shown() is another scene
  void historyChanged();  // a step was made, undone or redone
  void activeChanged();
  void keptChanged();
  void refused(const QString& sentence);

 private:
  void goTo(int step);
  QString lockedWords(const scene::Edit& edit) const;
  void settleActive();
  scene::History history_;
  std::optional<scene::Scene> draft_;
  scene::LayerId active_;
  std::vector<scene::LayerId> beside_;  // in hand with the active one
  QString path_;
  QDateTime keptAt_;
  int waiting_ = 0;
  bool lockTold_ = false;  // in this gesture
  Keeper keeper_;
};

}  // namespace hseam::app
