#pragma once

#include <QWidget>

namespace hseam::app {

/// A field with tacks, one of them in hand. A press takes one, dragging moves it, a double click or Delete sets it back; Space
/// goes to the next, the arrows move it, with Shift further. What the tacks stand for is the subclass's.
class TackEditor : public QWidget {
  Q_OBJECT

 public:
  explicit TackEditor(int height, QWidget* parent = nullptr);

 protected:
  /// Takes the tack that is meant there in hand. False: none is.
  virtual bool take(QPointF at) = 0;
  virtual void moveTo(QPointF at) = 0;
  virtual void setBack() = 0;
  virtual void next() = 0;
  /// By the arrows: x to the right, y upwards, each -1, 0 or 1. False: it does not go that way.
  virtual bool step(int x, int y, bool far) = 0;
  /// While it is dragged, and when that is over.
  virtual void tell(bool finished) = 0;
  bool dragging() const { return dragging_; }

  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  bool dragging_ = false;
};

}  // namespace hseam::app
