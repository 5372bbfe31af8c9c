#pragma once

#include <functional>

#include "app/canvas/instrument.h"
#include "app/document/session.h"

namespace hseam::app {

/// Moves, scales and turns the active picture by its corners and its stem.
class SetInPlace : public Instrument {
 public:
  explicit SetInPlace(Session& session) : session_(session) {}
  /// What a move becomes: a subject that keeps its size on the floor grows and shrinks on its way.
  void setRule(std::function<scene::Placement(const scene::Placement&)> rule) { rule_ = std::move(rule); }
  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  enum class Grip { none, inside, corner, stem };
  struct Frame {
    base::Point corners[4];  // px of the scene, clockwise from the picture's top left
    base::Point centre, stem;
  };
  std::optional<Frame> frame() const;
  void catchOnGuides(scene::Placement& now, base::Size size) const;
  scene::Edit placed(const scene::Placement& now) const;
  const scene::PictureContent* picture() const;

  Session& session_;
  Grip grip_ = Grip::none;
  scene::Placement start_;
  std::function<scene::Placement(const scene::Placement&)> rule_ = [](const scene::Placement& p) { return p; };
  QPointF from_;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
