#pragma once

#include "app/canvas/instrument.h"
#include "app/document/desk.h"

namespace hseam::app {

/// Bends the active picture: by its four corners, by the crossings of a grid, or by tacks.
class WarpTool : public Instrument {
 public:
  enum class Way { corners, grid, tacks };
  explicit WarpTool(Desk& desk) : desk_(desk) {}
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
  /// The bend of the active picture; with a way's own parts made if they are missing.
  scene::Warp warpFor(Way way) const;

 private:
  const scene::PictureContent* picture() const;
  /// The points that are dragged in this way, in their own stage's px.
  static std::vector<base::Point*> handles(scene::Warp& warp, Way way);
  /// From a handle's own px to the scene.
  base::Point toScene(const scene::Warp& warp, Way way, base::Point handle) const;
  base::Point fromScene(const scene::Warp& warp, Way way, base::Point start, base::Point wanted) const;
  void change(const scene::Warp& warp, bool keep);

  Desk& desk_;
  int grip_ = -1, last_ = -1;
  scene::Warp start_;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
