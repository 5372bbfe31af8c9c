#pragma once

#include "app/canvas/instrument.h"
#include "app/document/messages.h"
#include "app/document/session.h"

namespace hseam::app {

/// Bends the active picture or the words in hand: by four corners, by the crossings of a grid, or by tacks.
class WarpTool : public Instrument {
 public:
  enum class Way { corners, grid, tacks };
  WarpTool(Session& session, Messages& messages) : session_(session), messages_(messages) {}
  Way way = Way::corners;
  /// The next press splits the grid there.
  bool splits = false;

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;
  /// The bend of what is in hand; with a way's own parts made if they are missing.
  scene::Warp warpFor(Way way) const;
  /// Kept as a step, or shown as a draft while it is dragged. A neutral one: not bent.
  void change(const scene::Warp& warp, bool keep);
  /// The bend as it is kept (null: none); nothing if nothing that bends is in hand.
  std::optional<const scene::Warp*> kept() const;

 private:
  /// What is bent, as it is shown now: a picture, or the box that words fill.
  struct Sheet {
    const scene::Warp* warp = nullptr;
    base::Size size;
    base::Affine toScene;
  };
  std::optional<Sheet> sheet() const;
  std::optional<Sheet> sheetOf(const scene::Layer* layer) const;
  /// The points that are dragged in this way, in their own stage's px.
  static std::vector<base::Point*> handles(scene::Warp& warp, Way way);
  /// From a handle's own px to the scene.
  base::Point toScene(const scene::Warp& warp, Way way, base::Point handle) const;
  base::Point fromScene(const scene::Warp& warp, Way way, base::Point start, base::Point wanted) const;
  /// Near a line of a fan of guides through the corner before or after it, a corner lies on it.
  base::Point caught(const scene::Warp& warp, base::Point wanted) const;

  Session& session_;
  Messages& messages_;
  int grip_ = -1, last_ = -1;
  scene::Warp start_;
  mutable std::shared_ptr<const text::Lettering> boxedWords_;  // whose box was worked out last
  mutable base::Rect box_;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
