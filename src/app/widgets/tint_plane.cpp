#include "app/widgets/tint_plane.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {

TintPlane::TintPlane(QWidget* parent) : TackEditor(210, parent) {
  setAccessibleName(tr("Tints of shadows, midtones and highlights"));
  setAccessibleDescription(tr("Space chooses the next tack, arrows move it, Delete sets it back to the middle."));
  setToolTip(
      tr("Drag the tacks: where shadows, midtones and highlights shall lean. Lightness stays. Double click sets a tack back; "
         "Space chooses "
         "the next, arrows move it."));
}

void TintPlane::setBalance(const scene::ColourBalance& balance) {
  if (dragging()) return;
  balance_ = balance;
  update();
}

QRectF TintPlane::field() const {
  const double side = height() - 8.0;
  return {(width() - side) / 2, 4, side, side};
}

QPointF TintPlane::toWidget(const scene::Tint& t) const {
  const QRectF f = field();
  return {f.center().x() + t.x * f.width() / 2, f.center().y() - t.y * f.height() / 2};
}

scene::Tint* TintPlane::tack(int i) {
  return i == 0 ? &balance_.shadows : (i == 1 ? &balance_.midtones : &balance_.highlights);
}

void TintPlane::paintEvent(QPaintEvent*) {
  QPainter p(this);
  const QRectF f = field();
  const int side = int(f.width()) / 3;
  QImage plane(side, side, QImage::Format_RGB32);
  for (int y = 0; y < side; ++y) {
    for (int x = 0; x < side; ++x) {
      scene::ColourBalance b;
      b.midtones = {2.0 * x / (side - 1) - 1, 1 - 2.0 * y / (side - 1)};
      const auto c = scene::AdjustmentFunction(scene::Adjustment(b))({0.42, 0.42, 0.42});
      plane.setPixel(x, y, qRgb(int(c[0] * 255), int(c[1] * 255), int(c[2] * 255)));
    }
  }
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.drawImage(f, plane);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(QColor(0, 0, 0, 90), 1));
  p.drawLine(QPointF(f.center().x(), f.top()), QPointF(f.center().x(), f.bottom()));
  p.drawLine(QPointF(f.left(), f.center().y()), QPointF(f.right(), f.center().y()));
  p.setFont(theme::font(theme::Size::small));
  const QString names[3] = {tr("shadows"), tr("midtones"), tr("highlights")};
  const QColor fills[3] = {QColor(40, 40, 40), QColor(128, 128, 128), QColor(235, 235, 235)};
  for (int i = 0; i < 3; ++i) {
    const QPointF at = toWidget(*tack(i));
    p.setPen(QPen(i == chosen_ ? theme::colours().blue : QColor(20, 20, 20), i == chosen_ ? 3 : 1.5));
    p.setBrush(fills[i]);
    p.drawEllipse(at, 8, 8);
    const QRectF tag(at.x() + 11, at.y() - 9 + (i - 1) * 15, 64, 18);
    p.setPen(Qt::black);
    p.drawText(tag.translated(1, 1), Qt::AlignVCenter, names[i]);
    p.setPen(Qt::white);
    p.drawText(tag, Qt::AlignVCenter, names[i]);
  }
  if (hasFocus()) {
    p.setPen(QPen(theme::colours().blue, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(f);
  }
}

bool TintPlane::take(QPointF at) {
  double nearest = 1e9;
  for (int i = 2; i >= 0; --i) {
    const QPointF d = toWidget(*tack(i)) - at;
    const double distance = std::hypot(d.x(), d.y());
    // Tacks that lie on each other: the chosen one first.
    if (distance < nearest - (i == chosen_ ? -0.5 : 0.5)) nearest = distance, chosen_ = i;
  }
  return true;
}

void TintPlane::moveTo(QPointF at) {
  const QRectF f = field();
  put({(at.x() - f.center().x()) / (f.width() / 2), (f.center().y() - at.y()) / (f.height() / 2)});
}

void TintPlane::put(scene::Tint tint) {
  *tack(chosen_) = {std::clamp(tint.x, -1.0, 1.0), std::clamp(tint.y, -1.0, 1.0)};
}

void TintPlane::setBack() {
  put({});
}

void TintPlane::next() {
  chosen_ = (chosen_ + 1) % 3;
}

bool TintPlane::step(int x, int y, bool far) {
  const scene::Tint t = *tack(chosen_);
  const double by = far ? 0.1 : 0.02;
  put({t.x + x * by, t.y + y * by});
  return true;
}

void TintPlane::tell(bool finished) {
  if (finished) {
    emit changed(balance_);
  } else {
    emit changing(balance_);
  }
}

}  // namespace hseam::app
