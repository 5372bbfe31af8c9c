#include "app/instruments/outline_tool.h"

#include <cmath>

namespace hseam::app {

OutlineTool::OutlineTool(std::function<void(Kind, const QPolygonF&)> done, std::function<QString()> words)
    : done_(std::move(done)), words_(std::move(words)) {}

bool OutlineTool::closesOn(const QPointF& at) const {
  const QPointF d = (at - points_.first()) * widgetScale_;
  return points_.size() >= 3 && std::hypot(d.x(), d.y()) < 10;
}

void OutlineTool::press(const Touch& touch) {
  at_ = touch.at;
  if (kind == Kind::straight) {
    if (touch.button == Qt::RightButton) {
      if (!points_.isEmpty()) points_.removeLast();  // one step back
    } else if (!points_.isEmpty() && closesOn(touch.at)) {
      finish();
    } else {
      points_ << touch.at;
    }
    return;
  }
  points_ = QPolygonF() << touch.at;
  if (kind == Kind::rectangle || kind == Kind::ellipse) points_ << touch.at;
}

void OutlineTool::move(const Touch& touch) {
  at_ = touch.at;
  if (points_.isEmpty()) return;
  if (kind == Kind::freehand || kind == Kind::line) {
    points_ << touch.at;
  } else if (kind != Kind::straight) {
    QPointF to = touch.at;
    if (touch.modifiers & Qt::ShiftModifier) {
      // As wide as high.
      const QPointF d = to - points_.first();
      const double side = std::max(std::abs(d.x()), std::abs(d.y()));
      to = points_.first() + QPointF(std::copysign(side, d.x()), std::copysign(side, d.y()));
    }
    points_[1] = to;
  }
}

void OutlineTool::release(const Touch&) {
  if (kind != Kind::straight) finish();
}

bool OutlineTool::doubleClick(const Touch&) {
  if (kind != Kind::straight) return false;
  finish();
  return true;
}

void OutlineTool::finish() {
  const QPolygonF outline = points_;
  points_.clear();
  const QRectF box = outline.boundingRect();
  if (kind == Kind::line) {
    if (std::hypot(box.width(), box.height()) >= 4) done_(kind, outline);
    return;
  }
  if (outline.size() < 2 || box.width() < 1 || box.height() < 1) return;
  if (outline.size() >= 3 || kind == Kind::rectangle || kind == Kind::ellipse) done_(kind, outline);
}

void OutlineTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::abs(toWidget.m22());
  if (points_.isEmpty()) return;
  if (kind == Kind::rectangle || kind == Kind::ellipse) {
    const QRectF box = toWidget.mapRect(QRectF(points_[0], points_[1]).normalized());
    QPolygonF line;
    for (int i = 0; i < 72; ++i) {
      line << box.center() + QPointF(std::cos(i * M_PI / 36) * box.width() / 2, std::sin(i * M_PI / 36) * box.height() / 2);
    }
    drawStitched(painter, kind == Kind::rectangle ? QPolygonF(box) : line, true);
    return;
  }
  QPolygonF line = toWidget.map(points_);
  if (kind == Kind::straight) line << toWidget.map(at_);
  drawStitched(painter, line, kind == Kind::freehand);
  if (kind == Kind::straight) {
    painter.setPen(QPen(Qt::black, 1));
    painter.setBrush(Qt::white);
    for (const QPointF& p : points_) painter.drawRect(QRectF(toWidget.map(p) - QPointF(3, 3), QSizeF(6, 6)));
  }
}

void drawStitched(QPainter& painter, const QPolygonF& line, bool closed) {
  painter.setBrush(Qt::NoBrush);
  QPen under(QColor(0, 0, 0, 170), 2.6), over(Qt::white, 1.4);
  over.setDashPattern({4, 3});
  for (const QPen& pen : {under, over}) {
    painter.setPen(pen);
    closed ? painter.drawPolygon(line) : painter.drawPolyline(line);
  }
}

}  // namespace hseam::app
