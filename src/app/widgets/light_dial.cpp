#include "app/widgets/light_dial.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {

LightDial::LightDial(QWidget* parent) : QWidget(parent) {
  setFixedHeight(118);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Where the light comes from"));
  setAccessibleDescription(tr("Left and right turn it, up and down raise and lower it."));
  setToolTip(tr(
      "The scene from above: the subject in the middle, you at the foot. Drag the lamp: near the middle it stands high, at the "
      "rim low. Arrows turn and raise it."));
}

void LightDial::setLight(const scene::LightFrom& light) {
  if (dragging_) return;
  light_ = light;
  update();
}

QPointF LightDial::placeOf(const scene::LightFrom& l) const {
  const double a = l.azimuthDeg * M_PI / 180, r = radius() * (1 - l.elevationDeg / 90);
  return middle() + QPointF(std::sin(a), std::cos(a)) * r;
}

void LightDial::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto& c = theme::colours();
  p.setPen(QPen(hasFocus() ? c.blue : c.line, 1));
  p.setBrush(c.sunk);
  p.drawEllipse(middle(), radius(), radius());
  p.setPen(QPen(c.line, 1, Qt::DotLine));
  p.drawEllipse(middle(), radius() / 2, radius() / 2);
  const QPointF lamp = placeOf(light_), away = middle() - (lamp - middle());
  // The shadow, longer for lower light.
  p.setPen(QPen(QColor(0, 0, 0, 150), 7, Qt::SolidLine, Qt::RoundCap));
  p.drawLine(middle(), middle() + (away - middle()) * 0.8);
  p.setPen(Qt::NoPen);
  p.setBrush(c.text);
  p.drawEllipse(middle(), 5, 5);
  p.setPen(QPen(c.blue, 1.5));
  p.drawLine(lamp, middle());
  p.setBrush(c.blue);
  p.drawEllipse(lamp, 6, 6);
  p.setPen(c.quiet);
  p.setFont(theme::font(theme::Size::small));
  p.drawText(QRectF(0, height() - 18, width() / 2.0 - radius() - 6, 16), Qt::AlignRight, tr("camera side"));
  p.drawText(QRectF(0, 2, width() / 2.0 - radius() - 6, 16), Qt::AlignRight, tr("far side"));
  p.drawText(QRectF(width() / 2.0 + radius() + 6, height() / 2.0 - 16, width() / 2.0 - radius() - 6, 34), Qt::AlignLeft,
             tr("%1° round\n%2° high").arg(light_.azimuthDeg, 0, 'f', 0).arg(light_.elevationDeg, 0, 'f', 0));
}

void LightDial::moveTo(const QPointF& at) {
  const QPointF d = at - middle();
  const double r = std::hypot(d.x(), d.y());
  if (r > 1) light_.azimuthDeg = std::atan2(d.x(), d.y()) * 180 / M_PI;
  light_.elevationDeg = std::clamp(90 * (1 - r / radius()), 2.0, 90.0);
  update();
}

void LightDial::mousePressEvent(QMouseEvent* event) {
  dragging_ = true;
  moveTo(event->position());
  emit changing(light_);
}
void LightDial::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return;
  moveTo(event->position());
  emit changing(light_);
}
void LightDial::mouseReleaseEvent(QMouseEvent*) {
  if (!dragging_) return;
  dragging_ = false;
  emit changed(light_);
}

void LightDial::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 15 : 2;
  switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
      light_.azimuthDeg += event->key() == Qt::Key_Left ? -step : step;
      light_.azimuthDeg = std::remainder(light_.azimuthDeg, 360.0);
      break;
    case Qt::Key_Up:
    case Qt::Key_Down:
      light_.elevationDeg = std::clamp(light_.elevationDeg + (event->key() == Qt::Key_Up ? step : -step), 2.0, 90.0);
      break;
    default:
      QWidget::keyPressEvent(event);
      return;
  }
  update();
  emit changed(light_);
}

}  // namespace hseam::app
