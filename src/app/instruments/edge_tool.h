#pragma once

#include <QPolygonF>
#include <functional>
#include <optional>
#include <vector>

#include "app/canvas/instrument.h"
#include "core/select/edge_ways.h"

namespace hseam::app {

/// Draws a closed outline that keeps to the picture's edges between clicked pins.
class EdgeTool : public Instrument {
 public:
  /// Finds the ways from a place (px of the picture) on a level, beside the interface, and hands them over.
  using Find = std::function<void(const QPointF& from, int level, std::function<void(const select::EdgeWays&)> found)>;
  /// done: the outline in px of the shown scene. redraw: asks for a repaint when ways have come.
  EdgeTool(Find find, std::function<void(const QPolygonF&)> done, std::function<void()> redraw);

  /// Left sets a pin, or closes on the first one; right takes the last pin back.
  void press(const Touch& touch) override;
  void hover(const QPointF& at) override { at_ = at; }
  bool doubleClick(const Touch& touch) override;
  void cancel() override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  bool closesOn(const QPointF& at) const;
  /// From the last pin: along edges as soon as the ways are known, until then straight.
  QPolygonF wayTo(const QPointF& at) const;
  void findFromLastPin();
  void finish();

  Find find_;
  std::function<void(const QPolygonF&)> done_;
  std::function<void()> redraw_;
  QPolygonF line_;               // what is settled
  std::vector<qsizetype> pins_;  // where in it the pins are
  std::optional<select::EdgeWays> ways_;
  int asked_ = 0;  // ways that come for an earlier pin are dropped
  QPointF at_;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
