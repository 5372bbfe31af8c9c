#include "app/widgets/hue_ring.h"

#include <QConicalGradient>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/histogram.h"

namespace hseam::app {
namespace {

constexpr double kLeastRadius = 26, kMostRadius = 86;  // px from the centre: the least and the most
constexpr double kRing = 12;                           // px, of the hues around
constexpr double kTack = 8;

double shareOf(const HueRing::Tack& t) {
  return (t.value - t.low) / (t.high - t.low);
}
QPointF directionOf(double hue) {
  const double a = (90 - hue) * M_PI / 180;  // red on top, clockwise
  return {std::cos(a), -std::sin(a)};
}

}  // namespace

HueRing::HueRing(QWidget* parent) : TackEditor(244, parent) {
  setToolTip(
      tr("One tack for each hue: drag it outwards for more, inwards for less; the dotted ring is where nothing changes. Space "
         "chooses the next, arrows move it, a double click or Delete sets it back."));
}

void HueRing::setTacks(const QString& what, const std::vector<Tack>& tacks) {
  if (dragging()) return;
  setAccessibleName(what);
  tacks_ = tacks;
  chosen_ = std::clamp(chosen_, 0, std::max(0, int(tacks_.size()) - 1));
  tellValue();
  update();
}

QPointF HueRing::centre() const {
  return {width() / 2.0, kMostRadius + kRing + kTack + 6};
}

QPointF HueRing::placeOf(const Tack& t) const {
  return centre() + directionOf(t.hue) * (kLeastRadius + shareOf(t) * (kMostRadius - kLeastRadius));
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
  ring.addEllipse(centre(), kMostRadius + kTack + kRing, kMostRadius + kTack + kRing);
  ring.addEllipse(centre(), kMostRadius + kTack + 2, kMostRadius + kTack + 2);
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
}

bool HueRing::take(QPointF at) {
  double nearest = 1e9;
  for (std::size_t i = 0; i < tacks_.size(); ++i) {
    // A press anywhere in a hue's direction takes its tack.
    const QPointF way = at - centre(), d = directionOf(tacks_[i].hue);
    const double across = std::abs(way.x() * d.y() - way.y() * d.x()), along = way.x() * d.x() + way.y() * d.y();
    const double away = along > 0 ? across : 1e6 + across;
    if (away < nearest) nearest = away, chosen_ = int(i);
  }
  return !tacks_.empty();
}

void HueRing::moveTo(QPointF at) {
  const Tack& t = tacks_[std::size_t(chosen_)];
  const QPointF way = at - centre(), d = directionOf(t.hue);
  const double share = (way.x() * d.x() + way.y() * d.y() - kLeastRadius) / (kMostRadius - kLeastRadius);
  put(t.low + share * (t.high - t.low));
}

void HueRing::setBack() {
  if (!tacks_.empty()) put(tacks_[std::size_t(chosen_)].initial);
}

void HueRing::next() {
  if (!tacks_.empty()) chosen_ = (chosen_ + 1) % int(tacks_.size());
  tellValue();
}

bool HueRing::step(int x, int y, bool far) {
  if (tacks_.empty()) return false;
  const Tack& t = tacks_[std::size_t(chosen_)];
  put(t.value + (x + y) * (t.high - t.low) / (far ? 20 : 200));
  return true;
}

void HueRing::tell(bool finished) {
  if (tacks_.empty()) return;
  const double value = tacks_[std::size_t(chosen_)].value;
  if (finished) {
    emit changed(chosen_, value);
  } else {
    emit changing(chosen_, value);
  }
}

}  // namespace hseam::app
