#pragma once

#include <QPolygonF>
#include <functional>

#include "app/canvas/instrument.h"

namespace hseam::app {

/// Draws one closed outline: a rectangle, an ellipse, freehand, or straight sides from click to click. Or a line, which stays
/// open.
class OutlineTool : public Instrument {
 public:
  enum class Kind { rectangle, ellipse, freehand, straight, line };
  /// done: the outline in px of the shown scene.
  OutlineTool(std::function<void(Kind, const QPolygonF&)> done, std::function<QString()> words);
  Kind kind = Kind::freehand;

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void hover(const QPointF& at) override { at_ = at; }
  bool doubleClick(const Touch& touch) override;
  void cancel() override { points_.clear(); }
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return words_(); }

 private:
  void finish();
  bool closesOn(const QPointF& at) const;
  std::function<void(Kind, const QPolygonF&)> done_;
  std::function<QString()> words_;
  QPolygonF points_;
  QPointF at_;
  double widgetScale_ = 1;
};

/// A thin line that is seen on any picture: dark below, light stitches above.
void drawStitched(QPainter& painter, const QPolygonF& widgetLine, bool closed);

}  // namespace hseam::app
