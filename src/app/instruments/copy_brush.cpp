#include "app/instruments/copy_brush.h"

#include <QPainterPath>
#include <cmath>

#include "app/canvas/view.h"
#include "app/instruments/thread.h"
#include "core/retouch/retouch.h"

namespace hseam::app {

void CopyBrush::setPlace(const std::optional<QPointF>& place) {
  place_ = place;
  anchor_.reset();
  if (placeSaid) placeSaid();
}

base::Affine CopyBrush::toSourceFrom(const QPointF& anchor) const {
  const double k = 1 / manner.scale, a = -manner.turnDeg * M_PI / 180, across = manner.mirrored ? -1 : 1;
  base::Affine m{k * across * std::cos(a), -k * across * std::sin(a), k * std::sin(a), k * std::cos(a), 0, 0};
  const base::Point moved = m.map({anchor.x(), anchor.y()});
  m.e = place_->x() - moved.x;
  m.f = place_->y() - moved.y;
  // Copies of whole pixels stay what they are.
  if (manner.turnDeg == 0 && manner.scale == 1 && !manner.mirrored) m.e = std::round(m.e), m.f = std::round(m.f);
  return m;
}

void CopyBrush::press(const Touch& touch) {
  pointer_ = touch.at;
  if (copies && touch.button == Qt::RightButton) {
    setPlace(touch.at);
    return;
  }
  if (copies && !place_) {
    if (placeMissing) placeMissing();
    return;
  }
  if (copies && (manner.afresh || !anchor_)) anchor_ = touch.at;
  down_ = true;
  Brush::press(touch);
}

void CopyBrush::move(const Touch& touch) {
  pointer_ = touch.at;
  if (down_) Brush::move(touch);
}

void CopyBrush::release(const Touch& touch) {
  if (!down_) return;
  down_ = false;
  Brush::release(touch);
}

void CopyBrush::cancel() {
  down_ = false;
  Brush::cancel();
}

void CopyBrush::hover(const QPointF& at) {
  pointer_ = at;
  Brush::hover(at);
}

bool CopyBrush::nudge(double dx, double dy) {
  if (!copies || !place_) return false;
  *place_ += QPointF(dx, dy);
  if (placeSaid) placeSaid();
  return true;
}

void CopyBrush::paintOver(QPainter& painter, const QTransform& toWidget) {
  Brush::paintOver(painter, toWidget);
  if (!drawsBeyondRing()) return;
  const bool begins = !anchor_ || (manner.afresh && !down_);
  const base::Affine m = toSourceFrom(begins ? pointer_ : *anchor_);
  const base::Point from = m.map({pointer_.x(), pointer_.y()});
  if (!down_) paintCopy(painter, toWidget, m);
  const QPointF a = toWidget.map(pointer_), b = toWidget.map(QPointF(from.x, from.y));
  painter.setRenderHint(QPainter::Antialiasing);
  drawThread(painter, a, b);
  constexpr double kMark = 7;
  drawThread(painter, b - QPointF(kMark, kMark), b + QPointF(kMark, kMark));
  drawThread(painter, b - QPointF(kMark, -kMark), b + QPointF(kMark, -kMark));
}

// What a click would lay down, inside the ring.
void CopyBrush::paintCopy(QPainter& painter, const QTransform& toWidget, const base::Affine& toSource) {
  constexpr int kMost = 360;  // px of the widget: a larger tip shows what it does anyway
  if (!source || toWidget.m12() != 0 || toWidget.m21() != 0 || toWidget.m11() <= 0) return;
  const int side = int(std::ceil(ringSize() * zoom()));
  if (side < 4 || side > kMost) return;
  const double px = 1 / zoom(), half = side * px / 2;
  const base::Affine grid{px, 0, 0, px, pointer_.x() - half, pointer_.y() - half};
  const auto copied = retouch::shownOn(source(), toSource.after(grid), {0, 0, side, side}, executor());
  if (!copied.ok()) return;
  const QPointF middle = toWidget.map(pointer_);
  const QRectF at(middle.x() - side / 2.0, middle.y() - side / 2.0, side, side);
  painter.save();
  QPainterPath ring;
  ring.addEllipse(at);
  painter.setClipPath(ring);
  painter.drawImage(at.topLeft(), toScreen(*copied, 0, 0, View{}));
  painter.restore();
}

}  // namespace hseam::app
