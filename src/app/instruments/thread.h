#pragma once

#include <QPainter>

#include "app/theme/theme.h"

namespace hseam::app {

/// A line that an instrument draws over the picture: blue on a dark rim, so that it is seen on anything. Widget px.
inline void drawThread(QPainter& painter, const QPointF& from, const QPointF& to) {
  painter.setPen(QPen(QColor(0, 0, 0, 180), 3));
  painter.drawLine(from, to);
  painter.setPen(QPen(theme::colours().blue, 1.5));
  painter.drawLine(from, to);
}

}  // namespace hseam::app
