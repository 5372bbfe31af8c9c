#pragma once

#include <vector>

#include "app/canvas/instrument.h"
#include "core/scene/point_match.h"

namespace hseam::app {

/// Draws arrows from a place of the active picture to where it must lie. The right button takes the last one back; an arrow's end
/// can be dragged again; arrows nudge the end in hand.
class MarksTool : public Instrument {
 public:
  explicit MarksTool(std::function<void()> changed) : changed_(std::move(changed)) {}
  const std::vector<scene::Mark>& marks() const { return marks_; }
  void clear();
  void press(const Touch& touch) override;
  void move(const Touch& touch) override;
  void release(const Touch& touch) override;
  void cancel() override { held_ = -1; }
  bool nudge(double dx, double dy) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override;

 private:
  std::function<void()> changed_;
  std::vector<scene::Mark> marks_;
  int held_ = -1;  // the mark in hand
  bool begin_ = false;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
