#pragma once

#include <QLineF>
#include <functional>
#include <optional>

#include "app/canvas/instrument.h"

namespace hseam::app {

/// Draws a line on the picture, from a square to a round grip: where a gradient begins and ends. Its grips can be dragged again.
class LineTool : public Instrument {
 public:
  struct Hooks {
    std::function<std::optional<QLineF>()> line;                // as shown now, px of the scene; nothing: none is in hand
    std::function<void(const QLineF& line, bool keep)> change;  // keep false: while it is drawn
    std::function<void()> undraft;                              // the gesture is given up
    std::function<QString()> words;
  };
  explicit LineTool(Hooks hooks) : hooks_(std::move(hooks)) {}
  void press(const Touch& touch) override;
  void move(const Touch& touch) override { draw(touch.at, false); }
  void release(const Touch& touch) override;
  void cancel() override;
  /// Moves the whole line.
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return hooks_.words(); }

 private:
  enum class Grip { none, begin, end, fresh };
  void draw(const QPointF& to, bool keep);
  Hooks hooks_;
  Grip grip_ = Grip::none;
  QLineF before_;
  QPointF from_;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
