#include "app/instruments/arrow_tool.h"

#include <QLineF>

#include "app/theme/theme.h"

namespace hseam::app {

void ArrowTool::release(const Touch& touch) {
  if (!from_) return;
  const QPointF from = *from_;
  from_.reset();
  if (QLineF(from, touch.at).length() >= 1) drawn_(from, touch.at);
}

void ArrowTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  if (!from_) return;
  const QLineF line(toWidget.map(*from_), toWidget.map(to_));
  painter.setPen(QPen(QColor(0, 0, 0, 170), 4, Qt::SolidLine, Qt::RoundCap));
  painter.drawLine(line);
  painter.setPen(QPen(theme::colours().blue, 2, Qt::SolidLine, Qt::RoundCap));
  painter.drawLine(line);
  for (const double turn : {150.0, -150.0}) {
    QLineF barb = QLineF::fromPolar(10, line.angle() + turn);
    barb.translate(line.p2());
    painter.drawLine(barb);
  }
}

}  // namespace hseam::app
