#pragma once

#include "app/canvas/instrument.h"
#include "app/document/session.h"

namespace hseam::app {

/// Drags a cast shadow's tip and foot on the floor, or draws the line of a contact shadow.
class LightTool : public Instrument {
 public:
  explicit LightTool(Session& session) : session_(session) {}
  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override;
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  enum class Grip { none, tip, foot, line };
  struct Cast {
    scene::CastShadow shadow;
    base::Affine toScene;
    base::Point foot, tip;  // scene px
    double heightM;
  };
  /// Of the shown scene.
  std::optional<Cast> cast() const;
  const scene::LightContent* light() const;
  const scene::Layer* caster() const;
  std::optional<scene::LightKind> dragged(const Cast& cast, Grip grip, const QPointF& to) const;
  void change(const scene::LightKind& kind, bool keep);

  Session& session_;
  Grip grip_ = Grip::none;
  std::vector<base::Point> line_;  // layer px of the caster
  double widgetScale_ = 1;
};

}  // namespace hseam::app
