#include "app/instruments/line_tool.h"

#include "app/instruments/thread.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kCatchPx = 12;  // of a grip, on the screen

}  // namespace

void LineTool::press(const Touch& touch) {
  const auto line = hooks_.line();
  if (!line || touch.button != Qt::LeftButton) return;
  before_ = *line;
  from_ = touch.at;
  const double reach = kCatchPx / widgetScale_;
  grip_ = QLineF(touch.at, line->p2()).length() < reach
              ? Grip::end
              : (QLineF(touch.at, line->p1()).length() < reach ? Grip::begin : Grip::fresh);
}

void LineTool::draw(const QPointF& to, bool keep) {
  if (grip_ == Grip::none) return;
  const QLineF drawn =
      grip_ == Grip::begin ? QLineF(to, before_.p2()) : (grip_ == Grip::end ? QLineF(before_.p1(), to) : QLineF(from_, to));
  if (drawn.length() >= 1) {
    hooks_.change(drawn, keep);
  } else if (keep) {
    hooks_.undraft();
  }
}

void LineTool::release(const Touch& touch) {
  draw(touch.at, true);
  grip_ = Grip::none;
}

void LineTool::cancel() {
  if (grip_ != Grip::none) hooks_.undraft();
  grip_ = Grip::none;
}

bool LineTool::nudge(double dx, double dy) {
  const auto line = hooks_.line();
  if (!line) return false;
  hooks_.change(line->translated(dx, dy), true);
  return true;
}

void LineTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::max(1e-6, std::abs(toWidget.m22()));
  const auto line = hooks_.line();
  if (!line) return;
  const QPointF a = toWidget.map(line->p1()), b = toWidget.map(line->p2());
  painter.setRenderHint(QPainter::Antialiasing);
  drawThread(painter, a, b);
  painter.setBrush(theme::colours().blue);
  painter.drawRect(QRectF(a - QPointF(5, 5), QSizeF(10, 10)));
  painter.drawEllipse(b, 6, 6);
}

}  // namespace hseam::app
