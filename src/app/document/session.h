#pragma once
// Work on a scene: its history, the layers in hand and the draft of a gesture. No widgets, no file: what keeps steps is told of
// each. Several can live side by side. UI thread only.

#include <QObject>
#include <QString>
#include <functional>
#include <optional>
#include <vector>

#include "app/document/messages.h"
#include "core/base/executor.h"
#include "core/scene/edit.h"
#include "core/scene/history.h"

namespace hseam::app {

class Session : public QObject {
  Q_OBJECT

 public:
  /// What is refused is told through `messages`. New pixels go into `memory`.
  Session(std::shared_ptr<image::TileMemory> memory, Messages& messages, QObject* parent = nullptr);

  /// Told of what must be kept, in order.
  struct Keeping {
    std::function<void(const scene::Step& step, int after)> step;
    std::function<void(int current)> wentTo;
  };
  /// Goes on with another history. onlyLooking: why nothing can be changed, as a sentence; empty if it can.
  void take(scene::History history, Keeping keeping, const QString& onlyLooking = {});
  bool onlyLooking() const { return !onlyLooking_.isEmpty(); }

  /// What the work is called: "Lamplighter poster" or "untitled".
  const QString& title() const { return title_; }
  void setTitle(const QString& title) { title_ = title; }

  /// The scene as kept; the draft is not in it.
  const scene::Scene& scene() const { return history_.scene(); }
  /// What to show: the draft if there is one.
  const scene::Scene& shown() const { return draft_ ? *draft_ : history_.scene(); }
  const scene::History& history() const { return history_; }
  scene::LayerId active() const { return active_; }
  /// The active layer in the kept scene; null if there is none.
  const scene::Layer* activeLayer() const { return scene::findLayer(scene(), active_); }
  void setActive(scene::LayerId layer);
  /// All layers in hand, the active one first: what moves, hides or goes, they do together.
  std::vector<scene::LayerId> inHand() const;
  /// Takes a layer in hand beside the active one, or lets it go.
  void toggleInHand(scene::LayerId layer);

  /// Applies, keeps and shows an Edit. False: it was refused, and nothing is changed.
  bool apply(const scene::Edit& edit);
  /// What was worked out of the scene `from` for a while; refused if what it replaces has changed since.
  bool applyResult(const scene::Edit& edit, const scene::Scene& from);
  /// Shows the scene with an Edit applied without keeping it: for gestures. nothing = back to the kept scene.
  void draft(const std::optional<scene::Edit>& edit);
  void undo();
  void redo();

  const std::shared_ptr<image::TileMemory>& memory() const { return memory_; }
  /// For short work of the UI thread itself (a dab, a shape). Not the pool: there it would wait for a running job.
  base::Executor& executor() { return here_; }

 signals:
  void replaced();        // another history was taken
  void sceneChanged();    // shown() is another scene
  void historyChanged();  // a step was made, undone or redone
  void activeChanged();

 private:
  void goTo(int step);
  void settleActive();
  QString lockedWords(const scene::Edit& edit) const;
  void emitAll();

  std::shared_ptr<image::TileMemory> memory_;
  Messages& messages_;
  base::InlineExecutor here_;
  scene::History history_;
  Keeping keeping_;
  QString onlyLooking_, title_;
  std::optional<scene::Scene> draft_;
  scene::LayerId active_;
  std::vector<scene::LayerId> beside_;  // in hand with the active one
  bool lockTold_ = false;               // in this gesture
};

}  // namespace hseam::app
