#pragma once

#include "app/instruments/brush.h"

namespace hseam::app {

/// A brush that copies: the right button says from where, the left one paints. A thread runs from the pointer to the place that
/// is copied, and the ring shows what would be laid down. Arrow keys move that place.
class CopyBrush : public Brush {
 public:
  using Brush::Brush;

  /// How the copy lies, about the place it is taken from.
  struct Manner {
    double turnDeg = 0, scale = 1;
    bool mirrored = false;
    bool afresh = false;  // each stroke begins at that place again; else the place moves along from stroke to stroke
  };
  Manner manner;
  /// False: nothing is copied, and the right button is an ordinary one.
  bool copies = true;
  /// What is copied.
  std::function<scene::Scene()> source;
  /// Called when the place has been said, or was missing when it was needed.
  std::function<void()> placeSaid, placeMissing;

  /// px of the scene; nothing: not said yet.
  const std::optional<QPointF>& place() const { return place_; }
  void setPlace(const std::optional<QPointF>& place);
  /// px of the scene where the stroke lays down → px of the scene that it copies. A place must have been said.
  base::Affine toSource() const { return toSourceFrom(anchor_.value_or(pointer_)); }

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  void hover(const QPointF& at) override;
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  bool drawsBeyondRing() const override { return copies && place_; }

 private:
  base::Affine toSourceFrom(const QPointF& anchor) const;
  void paintCopy(QPainter& painter, const QTransform& toWidget, const base::Affine& toSource);

  std::optional<QPointF> place_, anchor_;  // what is copied to the anchor lies at the place
  QPointF pointer_;
  bool down_ = false;
};

}  // namespace hseam::app
