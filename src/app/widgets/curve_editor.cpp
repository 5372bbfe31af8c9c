#include "app/widgets/curve_editor.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kOnLine = 7;  // px

const scene::CurvePoints kStraight{{0, 0}, {1, 1}};

}  // namespace

CurveEditor::CurveEditor(QWidget* parent) : QWidget(parent) {
  setFixedHeight(190);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Curve"));
  setAccessibleDescription(tr("Click adds a point, dragging moves it, Delete removes it, the arrow keys nudge it."));
  setToolTip(
      tr("Dark tones left, light tones right. Click adds a point, drag it; Delete or dragging it out removes it; arrows nudge.\n"
         "A click on another channel's line takes that in hand. Filled: tones as they are now. Line: tones of the scene below."));
}

void CurveEditor::setCurves(const std::vector<Line>& lines, int inHand) {
  lines_ = lines;
  if (inHand != inHand_) {
    inHand_ = inHand;
    chosen_ = -1;  // another line has other points
    dragging_ = false;
  }
  if (!dragging_) {
    const scene::CurvePoints& own = lines_[std::size_t(inHand_)].points;
    points_ = own.empty() ? kStraight : own;
    chosen_ = std::min(chosen_, int(points_.size()) - 1);
  }
  update();
}

void CurveEditor::setHistograms(const Histogram& result, const Histogram& below) {
  result_ = result;
  below_ = below;
  update();
}

QPointF CurveEditor::toWidget(double x, double y) const {
  const QRectF f = field();
  return {f.left() + x * f.width(), f.bottom() - y * f.height()};
}

std::pair<double, double> CurveEditor::fromWidget(QPointF p) const {
  const QRectF f = field();
  return {std::clamp((p.x() - f.left()) / f.width(), 0.0, 1.0), std::clamp((f.bottom() - p.y()) / f.height(), 0.0, 1.0)};
}

void CurveEditor::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  paintTones(p, QRectF(rect()), field(), result_, below_);
  p.setPen(QPen(theme::colours().quiet, 1, Qt::DashLine));
  p.drawLine(toWidget(0, 0), toWidget(1, 1));
  const auto draw = [&](const scene::CurvePoints& points, const QPen& pen) {
    QPainterPath line(toWidget(0, heightOf(points, 0)));
    for (int i = 1; i <= 160; ++i) line.lineTo(toWidget(i / 160.0, heightOf(points, i / 160.0)));
    p.setPen(pen);
    p.drawPath(line);
  };
  for (int i = 0; i < int(lines_.size()); ++i) {
    // A straight line changes nothing: it is left out but for the one in hand.
    if (i != inHand_ && !lines_[std::size_t(i)].points.empty())
      draw(lines_[std::size_t(i)].points, QPen(lines_[std::size_t(i)].colour, 1));
  }
  const QColor colour = lines_.empty() ? theme::colours().text : lines_[std::size_t(inHand_)].colour;
  draw(points_, QPen(colour, 2.5));
  for (int i = 0; i < int(points_.size()); ++i) {
    const QPointF at = toWidget(points_[std::size_t(i)].first, points_[std::size_t(i)].second);
    p.setPen(QPen(theme::colours().sunk, 1));
    p.setBrush(i == chosen_ ? theme::colours().blue : colour);
    p.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8));
  }
  if (hasFocus()) paintFocus(p, QRectF(rect()));
}

void CurveEditor::mousePressEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  chosen_ = -1;
  for (int i = 0; i < int(points_.size()); ++i) {
    const QPointF d = toWidget(points_[std::size_t(i)].first, points_[std::size_t(i)].second) - at;
    if (std::hypot(d.x(), d.y()) < 10) chosen_ = i;
  }
  if (const int other = chosen_ < 0 ? otherLineAt(at) : -1; other >= 0) {
    emit lineAsked(other);
    return;
  }
  if (chosen_ < 0) {
    const auto [x, y] = fromWidget(at);
    const auto next = std::find_if(points_.begin(), points_.end(), [x = x](const auto& q) { return q.first > x; });
    chosen_ = int(next - points_.begin());
    points_.insert(next, {x, y});
  }
  dragging_ = true;
  moveChosen(fromWidget(at).first, fromWidget(at).second);
  emit changing(points_);
}

double CurveEditor::heightOf(const scene::CurvePoints& points, double x) const {
  return scene::MonotoneCurve(points.empty() ? kStraight : points)(x);
}

int CurveEditor::otherLineAt(QPointF at) const {
  const double x = fromWidget(at).first;
  const auto away = [&](const scene::CurvePoints& points) { return std::abs(toWidget(x, heightOf(points, x)).y() - at.y()); };
  if (away(points_) < kOnLine) return -1;
  for (int i = 0; i < int(lines_.size()); ++i) {
    if (i != inHand_ && !lines_[std::size_t(i)].points.empty() && away(lines_[std::size_t(i)].points) < kOnLine) return i;
  }
  return -1;
}

// A point stays between its neighbours, so that the curve stays a function.
void CurveEditor::moveChosen(double x, double y) {
  const double gap = 0.01;
  auto& point = points_[std::size_t(chosen_)];
  const double low = chosen_ > 0 ? points_[std::size_t(chosen_) - 1].first + gap : 0;
  const double high = chosen_ + 1 < int(points_.size()) ? points_[std::size_t(chosen_) + 1].first - gap : 1;
  if (low <= high) point.first = std::clamp(x, low, high);
  point.second = std::clamp(y, 0.0, 1.0);
  update();
}

void CurveEditor::grab(double tone) {
  constexpr double kNear = 0.03;  // of tone: that point is meant
  const auto near = std::find_if(points_.begin(), points_.end(), [&](const auto& q) { return std::abs(q.first - tone) < kNear; });
  chosen_ = int(near - points_.begin());
  if (near == points_.end()) {
    const double y = scene::MonotoneCurve(points_)(tone);
    const auto next = std::find_if(points_.begin(), points_.end(), [tone](const auto& q) { return q.first > tone; });
    chosen_ = int(next - points_.begin());
    points_.insert(next, {tone, y});
  }
  dragging_ = true;
  liftedFrom_ = points_[std::size_t(chosen_)].second;
  update();
}

void CurveEditor::lift(double by) {
  if (!dragging_) return;
  moveChosen(points_[std::size_t(chosen_)].first, liftedFrom_ + by);
  emit changing(points_);
}

void CurveEditor::let() {
  if (!dragging_) return;
  dragging_ = false;
  emit changed(points_);
}

void CurveEditor::removeChosen() {
  if (chosen_ < 0 || points_.size() <= 2) return;
  points_.erase(points_.begin() + chosen_);
  chosen_ = -1;
  update();
}

void CurveEditor::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_ || chosen_ < 0) return;
  if (!QRectF(rect()).adjusted(-24, -24, 24, 24).contains(event->position())) {
    removeChosen();
  } else {
    const auto [x, y] = fromWidget(event->position());
    moveChosen(x, y);
  }
  emit changing(points_);
}

void CurveEditor::mouseReleaseEvent(QMouseEvent*) {
  if (!dragging_) return;
  dragging_ = false;
  emit changed(points_);
}

void CurveEditor::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 0.05 : 0.01;
  if (chosen_ < 0 && !points_.empty() && (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)) {
    chosen_ = event->key() == Qt::Key_Left ? 0 : int(points_.size()) - 1;
    update();
    return;
  }
  if (chosen_ < 0) return QWidget::keyPressEvent(event);
  const auto [x, y] = points_[std::size_t(chosen_)];
  switch (event->key()) {
    case Qt::Key_Left:
      moveChosen(x - step, y);
      break;
    case Qt::Key_Right:
      moveChosen(x + step, y);
      break;
    case Qt::Key_Up:
      moveChosen(x, y + step);
      break;
    case Qt::Key_Down:
      moveChosen(x, y - step);
      break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      removeChosen();
      break;
    default:
      return QWidget::keyPressEvent(event);
  }
  emit changed(points_);
}

}  // namespace hseam::app
