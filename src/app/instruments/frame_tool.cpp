#include "app/instruments/frame_tool.h"

#include <QPainterPath>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kFrameReachPx = 12;  // of a side, on the screen

// Of that size, in whole px, about a middle.
QRectF about(const QPointF& middle, double width, double height) {
  width = std::max(1.0, std::round(width)), height = std::max(1.0, std::round(height));
  return {std::round(middle.x() - width / 2), std::round(middle.y() - height / 2), width, height};
}

}  // namespace

void FrameTool::keepRatio(double ratio) {
  ratio_ = ratio;
  if (ratio <= 0) return;
  const bool wide = frame_.width() > frame_.height() * ratio;
  frame_ =
      about(frame_.center(), wide ? frame_.height() * ratio : frame_.width(), wide ? frame_.height() : frame_.width() / ratio);
  if (changed) changed();
}

void FrameTool::swapSides() {
  if (ratio_ > 0) ratio_ = 1 / ratio_;
  frame_ = about(frame_.center(), frame_.height(), frame_.width());
  if (changed) changed();
}

void FrameTool::press(const Touch& touch) {
  start_ = frame_;
  from_ = touch.at;
  grip_ = 0;
  const double reach = kFrameReachPx / widgetScale_;
  const QRectF near = frame_.adjusted(-reach, -reach, reach, reach);
  if (touch.button != Qt::LeftButton || !near.contains(touch.at)) return;
  if (std::abs(touch.at.x() - frame_.left()) < reach) grip_ |= kLeft;
  if (std::abs(touch.at.x() - frame_.right()) < reach) grip_ |= kRight;
  if (std::abs(touch.at.y() - frame_.top()) < reach) grip_ |= kTop;
  if (std::abs(touch.at.y() - frame_.bottom()) < reach) grip_ |= kBottom;
  if (grip_ == 0) grip_ = kAll;
}

void FrameTool::move(const Touch& touch) {
  if (grip_ == 0) return;
  const QPointF by(std::round(touch.at.x() - from_.x()), std::round(touch.at.y() - from_.y()));
  QRectF f = start_;
  if (grip_ & kLeft) f.setLeft(grip_ == kAll ? f.left() + by.x() : std::min(f.left() + by.x(), start_.right() - 1));
  if (grip_ & kTop) f.setTop(grip_ == kAll ? f.top() + by.y() : std::min(f.top() + by.y(), start_.bottom() - 1));
  if (grip_ & kRight) f.setRight(grip_ == kAll ? f.right() + by.x() : std::max(f.right() + by.x(), start_.left() + 1));
  if (grip_ & kBottom) f.setBottom(grip_ == kAll ? f.bottom() + by.y() : std::max(f.bottom() + by.y(), start_.top() + 1));
  if (ratio_ > 0 && grip_ != kAll) {
    const bool across = grip_ & (kLeft | kRight), along = grip_ & (kTop | kBottom);
    if (across && along) {
      // The corner that is not dragged stays.
      const double height = std::max(1.0, std::round(f.width() / ratio_));
      (grip_ & kTop) ? f.setTop(f.bottom() - height) : f.setBottom(f.top() + height);
    } else if (across) {
      const double middle = start_.center().y(), height = std::max(1.0, std::round(f.width() / ratio_));
      f = QRectF(f.left(), std::round(middle - height / 2), f.width(), height);
    } else {
      const double middle = start_.center().x(), width = std::max(1.0, std::round(f.height() * ratio_));
      f = QRectF(std::round(middle - width / 2), f.top(), width, f.height());
    }
  }
  frame_ = f;
  if (changed) changed();
}

bool FrameTool::nudge(double dx, double dy) {
  frame_.translate(dx, dy);
  if (changed) changed();
  return true;
}

void FrameTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::abs(toWidget.m22());
  const QRectF f = toWidget.mapRect(frame_);
  QPainterPath outside;
  outside.addRect(QRectF(painter.viewport()));
  outside.addRect(f);
  painter.fillPath(outside, QColor(0, 0, 0, 120));
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(QColor(0, 0, 0, 160), 3));
  painter.drawRect(f);
  painter.setPen(QPen(Qt::white, 1.4, Qt::DashLine));
  painter.drawRect(f);
  // Thirds, faint: where the eye looks first.
  painter.setPen(QPen(QColor(255, 255, 255, 90), 1));
  for (int i = 1; i < 3; ++i) {
    const double x = f.left() + f.width() * i / 3, y = f.top() + f.height() * i / 3;
    painter.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
    painter.drawLine(QPointF(f.left(), y), QPointF(f.right(), y));
  }
  painter.setPen(QPen(theme::colours().line, 1));
  painter.setBrush(theme::colours().blue);
  for (const QPointF& c : {f.topLeft(), f.topRight(), f.bottomRight(), f.bottomLeft()})
    painter.drawRect(QRectF(c - QPointF(5, 5), QSizeF(10, 10)));
}

QString FrameTool::doing() const {
  return QObject::tr("the frame: drag a side, a corner or the inside");
}

void LevelLine::press(const Touch& touch) {
  from_ = to_ = touch.at;
  held_ = true;
}

void LevelLine::release(const Touch& touch) {
  to_ = touch.at;
  held_ = false;
  const QPointF d = to_ - from_;
  if (std::hypot(d.x(), d.y()) < 2 || !drawn) return;
  double degrees = std::atan2(d.y(), d.x()) * 180 / M_PI;
  degrees = std::remainder(degrees, 90);  // to the nearer of level and upright
  drawn(-degrees);
}

void LevelLine::paintOver(QPainter& painter, const QTransform& toWidget) {
  if (!held_) return;
  const QPointF a = toWidget.map(from_), b = toWidget.map(to_);
  painter.setPen(QPen(QColor(0, 0, 0, 170), 4));
  painter.drawLine(a, b);
  painter.setPen(QPen(Qt::white, 1.6));
  painter.drawLine(a, b);
}

QString LevelLine::doing() const {
  return QObject::tr("draw along a horizon, or along something that stands upright");
}

}  // namespace hseam::app
