#include "app/instruments/floor_tool.h"

#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kEnds = 0.25;  // of the canvas's width at each side that tilt instead of moving

std::optional<QPointF> meeting(const std::pair<QPointF, QPointF>& a, const std::pair<QPointF, QPointF>& b) {
  const QPointF u = a.second - a.first, v = b.second - b.first, d = b.first - a.first;
  const double det = u.x() * v.y() - u.y() * v.x();
  if (std::abs(det) < 1e-4 * std::hypot(u.x(), u.y()) * std::hypot(v.x(), v.y())) return std::nullopt;
  return a.first + u * ((d.x() * v.y() - d.y() * v.x()) / det);
}

}  // namespace

std::vector<base::Point> meetingsOf(const std::vector<std::pair<QPointF, QPointF>>& lines) {
  std::vector<base::Point> all;
  for (std::size_t i = 0; i + 1 < lines.size(); i += 2) {
    if (const auto at = meeting(lines[i], lines[i + 1])) all.push_back({at->x(), at->y()});
  }
  return all;
}

std::optional<scene::Floor> horizonFrom(const scene::Floor& before, base::Size canvas,
                                        const std::vector<std::pair<QPointF, QPointF>>& lines) {
  const auto meetings = meetingsOf(lines);
  if (meetings.empty()) return std::nullopt;
  scene::Floor f = before;
  const base::Point p = meetings[0];
  double slope = 0;
  if (meetings.size() > 1 && std::abs(meetings[1].x - p.x) > 1) slope = (meetings[1].y - p.y) / (meetings[1].x - p.x);
  f.tiltDeg = std::clamp(std::atan(slope) * 180 / M_PI, -45.0, 45.0);
  f.horizonY = std::clamp(p.y + slope * (canvas.width / 2.0 - p.x), -1e5, 1e5);
  return f;
}

void FloorTool::beginLines() {
  drawing_ = true;
  lines_.clear();
}

scene::Floor FloorTool::now() const {
  const scene::Scene& s = session_.shown();
  return !s.floor && guess_ ? *guess_ : scene::floorOf(s);
}

double FloorTool::yAt(const scene::Floor& f, double x) const {
  return f.horizonY + std::tan(f.tiltDeg * M_PI / 180) * (x - session_.scene().canvas.width / 2.0);
}

void FloorTool::change(const scene::Floor& floor, bool keep) {
  if (keep) {
    if (session_.scene().floor != floor) session_.apply(scene::SetFloor{floor});
  } else {
    session_.draft(scene::SetFloor{floor});
  }
}

void FloorTool::press(const Touch& touch) {
  from_ = touch.at;
  if (drawing_) {
    lines_.emplace_back(touch.at, touch.at);
    return;
  }
  start_ = now();
  const double width = session_.scene().canvas.width, x = touch.at.x() / width;
  grip_ = x < kEnds ? Grip::left : (x > 1 - kEnds ? Grip::right : Grip::middle);
}

void FloorTool::move(const Touch& touch) {
  if (drawing_ && !lines_.empty()) {
    lines_.back().second = touch.at;
    return;
  }
  if (grip_ == Grip::none) return;
  scene::Floor f = start_;
  const double dy = touch.at.y() - from_.y();
  if (grip_ == Grip::middle) {
    f.horizonY = start_.horizonY + dy;
  } else {
    // The line turns about its middle.
    const double half = session_.scene().canvas.width / 2.0, end = grip_ == Grip::left ? -half : half;
    f.tiltDeg = std::clamp(std::atan2((yAt(start_, half + end) + dy - start_.horizonY) * (end < 0 ? -1 : 1), half) * 180 / M_PI,
                           -45.0, 45.0);
  }
  change(f, false);
}

void FloorTool::release(const Touch& touch) {
  move(touch);
  if (drawing_) {
    if (!lines_.empty() &&
        std::hypot((lines_.back().second - lines_.back().first).x(), (lines_.back().second - lines_.back().first).y()) < 8)
      lines_.pop_back();
    if (lines_.size() == 4) finishLines();
    return;
  }
  if (grip_ != Grip::none) change(now(), true);
  grip_ = Grip::none;
}

void FloorTool::finishLines() {
  drawing_ = false;
  const auto found = horizonFrom(now(), session_.scene().canvas, lines_);
  meetings_ = meetingsOf(lines_);
  lines_.clear();
  if (found) {
    change(*found, true);
  } else {
    emit messages_.said(QObject::tr("These lines do not meet: choose lines that run into the distance"));
  }
}

void FloorTool::cancel() {
  if (grip_ != Grip::none) session_.draft(std::nullopt);
  grip_ = Grip::none;
  // Two lines are a pair already.
  if (drawing_ && lines_.size() >= 2) return finishLines();
  drawing_ = false;
  lines_.clear();
}

bool FloorTool::nudge(double, double dy) {
  scene::Floor f = now();
  f.horizonY += dy;
  change(f, true);
  return true;
}

void FloorTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  painter.setRenderHint(QPainter::Antialiasing);
  const auto line = [&](QPointF a, QPointF b, Qt::PenStyle style) {
    painter.setPen(QPen(QColor(0, 0, 0, 170), 3));
    painter.drawLine(toWidget.map(a), toWidget.map(b));
    painter.setPen(QPen(theme::colours().blue, 1.5, style));
    painter.drawLine(toWidget.map(a), toWidget.map(b));
  };
  const scene::Floor f = now();
  const double width = session_.scene().canvas.width;
  line({0, yAt(f, 0)}, {width, yAt(f, width)}, Qt::SolidLine);
  const QPointF middle = toWidget.map(QPointF(width / 2, f.horizonY));
  painter.setBrush(theme::colours().blue);
  painter.drawEllipse(middle, 5, 5);
  for (const double x : {kEnds * 0.5, 1 - kEnds * 0.5})
    painter.drawRect(QRectF(toWidget.map(QPointF(x * width, yAt(f, x * width))) - QPointF(4, 4), QSizeF(8, 8)));
  // The floor in squares of a metre, ahead of the camera.
  const scene::FloorCamera camera(f, session_.scene().canvas);
  painter.save();
  painter.setClipRect(toWidget.mapRect(QRectF(0, 0, width, session_.scene().canvas.height)), Qt::IntersectClip);
  painter.setPen(QPen(QColor(255, 255, 255, 90), 1));
  const auto mapped = [&](double x, double z) -> std::optional<QPointF> {
    const auto p = camera.project({x, 0, z});
    return p ? std::optional(toWidget.map(QPointF(p->x, p->y))) : std::nullopt;
  };
  const double step = f.cameraHeightM / 1.6;
  for (int i = -6; i <= 6; ++i) {
    const auto a = mapped(i * step, 2.5 * step), b = mapped(i * step, 40 * step);
    if (a && b) painter.drawLine(*a, *b);
  }
  for (int i = 0; i < 10; ++i) {
    const double z = step * 2.5 * std::pow(1.36, i);
    const auto a = mapped(-6 * step, z), b = mapped(6 * step, z);
    if (a && b) painter.drawLine(*a, *b);
  }
  painter.restore();
  for (std::size_t i = 0; i < lines_.size(); ++i) line(lines_[i].first, lines_[i].second, i < 2 ? Qt::SolidLine : Qt::DashLine);
}

QString FloorTool::doing() const {
  if (drawing_) return QObject::tr("draw line %1 of 4 along something level; two and two are parallel").arg(lines_.size() + 1);
  return QObject::tr("drag the horizon; near its ends it tilts");
}

}  // namespace hseam::app
