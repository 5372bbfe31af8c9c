#pragma once

#include <QPolygonF>
#include <functional>
#include <memory>
#include <optional>

#include "app/canvas/instrument.h"
#include "core/matte/edge_plan.h"

namespace hseam::app {

/// Marks a part of the outline by dragging along it; the shorter way round counts.
class StretchTool : public Instrument {
 public:
  /// outline: of the cut in hand, px of the shown scene; null while it is not known. marked: a drag has ended, or a click (a
  /// count of 1) at a place.
  StretchTool(std::function<std::shared_ptr<const matte::Unrolled>()> outline, std::function<void(int first, int count)> marked,
              std::function<QString()> words);

  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override { from_.reset(); }
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return words_(); }

 private:
  std::optional<int> nearest(const QPointF& at, std::optional<int> onOutlineOf) const;
  struct Run {
    int first, count;
  };
  std::optional<Run> run() const;

  std::function<std::shared_ptr<const matte::Unrolled>()> outline_;
  std::function<void(int, int)> marked_;
  std::function<QString()> words_;
  std::optional<int> from_, to_;
  double widgetScale_ = 1;
};

/// A mark as a line over the picture.
void drawMark(QPainter& painter, const QTransform& toWidget, const matte::MarkedStretch& mark, bool inHand);

}  // namespace hseam::app
