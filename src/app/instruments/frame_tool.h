#pragma once

#include <QRectF>
#include <functional>

#include "app/canvas/instrument.h"

namespace hseam::app {

/// A frame on the canvas, dragged by its corners, its sides or as a whole; it may reach out of the picture.
class FrameTool : public Instrument {
 public:
  std::function<void()> changed;
  QRectF frame() const { return frame_; }  // px of the scene
  void setFrame(const QRectF& frame) { frame_ = frame; }
  /// Width over height that the frame has from now on, whatever is dragged; 0: it is free. Made so by cutting off the longer
  /// side.
  void keepRatio(double ratio);
  double ratio() const { return ratio_; }
  /// What was upright lies, about the same middle; so does the ratio.
  void swapSides();

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch&) override { grip_ = 0; }
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  enum Side { kLeft = 1, kTop = 2, kRight = 4, kBottom = 8, kAll = 15 };
  QRectF frame_, start_;
  double ratio_ = 0;
  QPointF from_;
  int grip_ = 0;  // the sides that follow
  double widgetScale_ = 1;
};

/// A line along something that ought to be level or upright.
class LevelLine : public Instrument {
 public:
  /// The turn in degrees that makes the line level, or upright if it is nearer to that.
  std::function<void(double degrees)> drawn;
  void press(const Touch& touch) override;
  void move(const Touch& touch) override { to_ = touch.at; }
  void release(const Touch& touch) override;
  void cancel() override { held_ = false; }
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  QPointF from_, to_;
  bool held_ = false;
};

}  // namespace hseam::app
