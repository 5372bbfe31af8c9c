#pragma once

#include "app/canvas/instrument.h"
#include "core/findings/report.h"

namespace hseam::app {

/// Shows findings on the picture as numbered knots; a click chooses the nearest.
class KnotsTool : public Instrument {
 public:
  struct Hooks {
    std::function<const std::vector<findings::Verdict>*()> findings;
    std::function<int()> chosen;  // −1: none
    std::function<void(int)> choose;
  };
  explicit KnotsTool(Hooks hooks) : hooks_(std::move(hooks)) {}
  void press(const Touch& touch) override;
  void paintOver(QPainter& painter, const QTransform& toWidget) override;
  QString doing() const override { return QObject::tr("click a knot to see what gives the picture away there"); }

 private:
  std::vector<QPointF> places() const;
  Hooks hooks_;
  double widgetScale_ = 1;
};

}  // namespace hseam::app
