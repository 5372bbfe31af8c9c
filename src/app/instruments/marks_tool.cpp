#include "app/instruments/marks_tool.h"

#include <cmath>

#include "app/instruments/thread.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kMarkReachPx = 12;  // on the screen
constexpr std::size_t kMostMarks = 4;

}  // namespace

void MarksTool::clear() {
  marks_.clear();
  held_ = -1;
  changed_();
}

void MarksTool::press(const Touch& touch) {
  if (touch.button == Qt::RightButton) {
    if (!marks_.empty()) marks_.pop_back();
    held_ = -1;
    changed_();
    return;
  }
  const double reach = kMarkReachPx / widgetScale_;
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    const auto near = [&](const base::Point& p) { return std::hypot(p.x - touch.at.x(), p.y - touch.at.y()) < reach; };
    if (!near(marks_[i].to) && !near(marks_[i].from)) continue;
    held_ = int(i);
    begin_ = !near(marks_[i].to);
    return;
  }
  if (marks_.size() >= kMostMarks) return;
  const base::Point at{touch.at.x(), touch.at.y()};
  marks_.push_back({at, at});
  held_ = int(marks_.size()) - 1;
  begin_ = false;
  changed_();
}

void MarksTool::move(const Touch& touch) {
  if (held_ < 0) return;
  auto& m = marks_[std::size_t(held_)];
  (begin_ ? m.from : m.to) = {touch.at.x(), touch.at.y()};
  changed_();
}

void MarksTool::release(const Touch& touch) {
  if (touch.button == Qt::LeftButton) move(touch);
}

bool MarksTool::nudge(double dx, double dy) {
  if (marks_.empty()) return false;
  auto& m = held_ >= 0 ? marks_[std::size_t(held_)] : marks_.back();
  base::Point& end = begin_ && held_ >= 0 ? m.from : m.to;
  end = {end.x + dx, end.y + dy};
  changed_();
  return true;
}

void MarksTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::max(1e-6, std::abs(toWidget.m22()));
  painter.setRenderHint(QPainter::Antialiasing);
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    const QPointF a = toWidget.map(QPointF(marks_[i].from.x, marks_[i].from.y)),
                  b = toWidget.map(QPointF(marks_[i].to.x, marks_[i].to.y));
    drawThread(painter, a, b);
    painter.setBrush(theme::colours().blue);
    painter.drawRect(QRectF(a - QPointF(4, 4), QSizeF(8, 8)));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(b, 6, 6);
    painter.setFont(theme::font(theme::Size::small, true));
    painter.drawText(b + QPointF(9, -6), QString::number(i + 1));
  }
}

QString MarksTool::doing() const {
  return QObject::tr("drag from a place of the picture to where it must lie: one arrow moves, two turn and scale, four bend");
}

}  // namespace hseam::app
