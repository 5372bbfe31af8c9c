#pragma once
// What the pointer does on the canvas. One instrument is in hand at a time; stations own theirs.

#include <QCursor>
#include <QPainter>
#include <QPointF>
#include <QString>
#include <QTransform>

namespace hseam::app {

/// One pointer event in px of the shown scene (edges at integers).
struct Touch {
  QPointF at;
  Qt::MouseButton button = Qt::LeftButton;  // the eraser end of a pen counts as the right button
  Qt::KeyboardModifiers modifiers;
  double pressure = 1;
};

class Instrument {
 public:
  virtual ~Instrument() = default;
  virtual void press(const Touch&) {}
  virtual void move(const Touch&) {}  // with a button held
  virtual void release(const Touch&) {}
  virtual void hover(const QPointF&) {}
  /// True if used; else it counts as another press.
  virtual bool doubleClick(const Touch&) { return false; }
  virtual void cancel() {}  // Escape, or another instrument is taken in hand
  /// Alt+wheel (size) and Alt+Shift+wheel (hardness), in steps of a notch. True if used.
  virtual bool turn(double /*notches*/, bool /*second*/) { return false; }
  /// Arrow keys, in px of the scene. True if used.
  virtual bool nudge(double /*dx*/, double /*dy*/) { return false; }
  /// Drawn over the picture, in widget px; toWidget maps px of the shown scene.
  virtual void paintOver(QPainter&, const QTransform& /*toWidget*/) {}
  /// Diameter of the pointer's ring in px of the shown scene and its inner (hard) share; 0: a plain pointer.
  virtual double ringSize() const { return 0; }
  virtual double ringHardness() const { return 1; }
  /// True: with a ring, it draws beyond it as well, where the pointer's place counts.
  virtual bool drawsBeyondRing() const { return false; }
  /// "paints the mask of lamplighter: left reveals, right hides"
  virtual QString doing() const = 0;
};

}  // namespace hseam::app
