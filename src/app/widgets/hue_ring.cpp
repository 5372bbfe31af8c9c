#include "app/widgets/hue_ring.h"

#include <QConicalGradient>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/histogram.h"

namespace hseam::app {
namespace {

constexpr double kInner = 26, kOuter = 86;  // px from the centre: the least and the most
constexpr double kRing = 12;                // px, of the hues around
constexpr double kTack = 8;

double shareOf(const HueRing::Tack& t) {
  return (t.value - t.low) / (t.high - t.low);
}
QPointF directionOf(double hue) {
  const double a = (90 - hue) * M_PI / 180;  // red on top, clockwise
  return {std::cos(a), -std::sin(a)};
}

}  // namespace

HueRing::HueRing(QWidget* parent) : QWidget(parent) {
  setFixedHeight(244);
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(
      tr("One tack for each hue: drag it outwards for more, inwards for less; the dotted ring is where nothing changes. Space "
         "chooses the next, arrows move it, a double click or Delete sets it back."));
}

void HueRing::setTacks(const QString& what, const std::vector<Tack>& tacks) {
  if (dragging_) return;
  setAccessibleName(what);
  tacks_ = tacks;
  chosen_ = std::clamp(chosen_, 0, std::max(0, int(tacks_.size()) - 1));
  tellValue();
  update();
}

QPointF HueRing::centre() const {
  return {width() / 2.0, kOuter + kRing + kTack + 6};
}

QPointF HueRing::placeOf(const Tack& t) const {
  return centre() + directionOf(t.hue) * (kInner + shareOf(t) * (kOuter - kInner));
}

void HueRing::tellValue() {
  if (tacks_.empty()) return;
  const Tack& t = tacks_[std::size_t(chosen_)];
  setAccessibleDescription(QStringLiteral("%1: %2 %3").arg(t.name).arg(t.value * t.shownTimes, 0, 'f', 0).arg(t.unit).trimmed());
}

void HueRing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(Qt::NoPen);
  p.setBrush(theme::colours().sunk);
  p.drawRoundedRect(rect(), 4, 4);
  QConicalGradient hues(centre(), 90);
  for (int k = 0; k <= 12; ++k) hues.setColorAt(k / 12.0, QColor::fromHsvF(float((12 - k) % 12) / 12, 0.75f, 0.85f));
  QPainterPath ring;
  ring.addEllipse(centre(), kOuter + kTack + kRing, kOuter + kTack + kRing);
  ring.addEllipse(centre(), kOuter + kTack + 2, kOuter + kTack + 2);
  p.fillPath(ring, hues);
  // Where nothing changes, and as it is.
  QPolygonF still, now;
  for (const Tack& t : tacks_) {
    Tack fresh = t;
    fresh.value = t.initial;
    still << placeOf(fresh);
    now << placeOf(t);
  }
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme::colours().quiet, 1, Qt::DotLine));
  p.drawPolygon(still);
  p.setPen(QPen(theme::colours().text, 1.5));
  p.drawPolygon(now);
  for (std::size_t i = 0; i < tacks_.size(); ++i) {
    const bool chosen = int(i) == chosen_;
    p.setPen(QPen(chosen ? theme::colours().blue : theme::colours().text, chosen ? 3 : 1.5));
    p.setBrush(QColor::fromHsvF(float(tacks_[i].hue / 360), 0.75f, 0.85f));
    p.drawEllipse(placeOf(tacks_[i]), kTack, kTack);
  }
  p.setPen(theme::colours().text);
  p.setFont(theme::font(theme::Size::small));
  p.drawText(QRectF(0, height() - 24, width(), 20), Qt::AlignCenter, accessibleDescription());
  if (hasFocus()) paintFocus(p, QRectF(rect()));
}

void HueRing::put(double value) {
  Tack& t = tacks_[std::size_t(chosen_)];
  t.value = std::clamp(value, t.low, t.high);
  tellValue();
  update();
}

void HueRing::mousePressEvent(QMouseEvent* event) {
  double nearest = 1e9;
  for (std::size_t i = 0; i < tacks_.size(); ++i) {
    // A press anywhere in a hue's direction takes its tack.
    const QPointF way = event->position() - centre(), d = directionOf(tacks_[i].hue);
    const double across = std::abs(way.x() * d.y() - way.y() * d.x()), along = way.x() * d.x() + way.y() * d.y();
    const double away = along > 0 ? across : 1e6 + across;
    if (away < nearest) nearest = away, chosen_ = int(i);
  }
  if (tacks_.empty()) return;
  dragging_ = true;
  mouseMoveEvent(event);
}

void HueRing::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return;
  const Tack& t = tacks_[std::size_t(chosen_)];
  const QPointF way = event->position() - centre(), d = directionOf(t.hue);
  const double share = (way.x() * d.x() + way.y() * d.y() - kInner) / (kOuter - kInner);
  put(t.low + share * (t.high - t.low));
  emit changing(chosen_, tacks_[std::size_t(chosen_)].value);
}

void HueRing::mouseReleaseEvent(QMouseEvent*) {
  if (!dragging_) return;
  dragging_ = false;
  emit changed(chosen_, tacks_[std::size_t(chosen_)].value);
}

void HueRing::mouseDoubleClickEvent(QMouseEvent*) {
  if (tacks_.empty()) return;
  dragging_ = false;
  put(tacks_[std::size_t(chosen_)].initial);
  emit changed(chosen_, tacks_[std::size_t(chosen_)].value);
}

void HueRing::keyPressEvent(QKeyEvent* event) {
  if (tacks_.empty()) return QWidget::keyPressEvent(event);
  const Tack& t = tacks_[std::size_t(chosen_)];
  const double step = (t.high - t.low) / (event->modifiers() & Qt::ShiftModifier ? 20 : 200);
  switch (event->key()) {
    case Qt::Key_Space:
      chosen_ = (chosen_ + 1) % int(tacks_.size());
      tellValue();
      update();
      return;
    case Qt::Key_Up:
    case Qt::Key_Right:
      put(t.value + step);
      break;
    case Qt::Key_Down:
    case Qt::Key_Left:
      put(t.value - step);
      break;
    case Qt::Key_Delete:
      put(t.initial);
      break;
    default:
      return QWidget::keyPressEvent(event);
  }
  emit changed(chosen_, tacks_[std::size_t(chosen_)].value);
}

}  // namespace hseam::app
