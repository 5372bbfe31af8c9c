#pragma once

#include <functional>

#include "app/canvas/instrument.h"

namespace hseam::app {

/// Moves a frame on its base by the arrow keys and by dragging.
class FrameNudge : public Instrument {
 public:
  /// By so many px of the base.
  std::function<void(double dx, double dy)> moved;
  std::function<QString()> words;
  double step = 1;  // px that an arrow moves it

  void press(const Touch& touch) override { from_ = touch.at; }
  void release(const Touch& touch) override {
    const QPointF by = touch.at - from_;
    if (!by.isNull()) moved(by.x(), by.y());
  }
  bool nudge(double dx, double dy) override {
    moved(dx * step, dy * step);
    return true;
  }
  QString doing() const override { return words(); }

 private:
  QPointF from_;
};

}  // namespace hseam::app
