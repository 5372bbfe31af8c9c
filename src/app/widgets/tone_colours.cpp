#include "app/widgets/tone_colours.h"

#include <QColorDialog>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr std::size_t kMost = 7;
constexpr double kGap = 0.01;  // of tone between two tacks
constexpr double kHead = 8;    // px, radius of a tack's head

QColor colourOf(const std::array<double, 3>& c) {
  return QColor::fromRgbF(float(c[0]), float(c[1]), float(c[2]));
}

}  // namespace

ToneColours::ToneColours(QWidget* parent) : QWidget(parent) {
  setFixedHeight(132);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Colours of the tones"));
  setAccessibleDescription(tr("Space chooses the next colour, arrows move it, Return asks for it, Delete takes it away."));
  setToolTip(
      tr("Dark tones left, light ones right. Click a tone to give it a colour, drag its line, double click its head for another "
         "colour; the right button or Delete takes it away."));
}

void ToneColours::setColours(const scene::TonesToColours& colours) {
  if (dragging_) return;
  colours_ = colours;
  chosen_ = std::clamp(chosen_, 0, int(colours_.stops.size()) - 1);
  update();
}

void ToneColours::setHistogram(const Histogram& below) {
  below_ = below;
  update();
}

QRectF ToneColours::field() const {
  return QRectF(rect()).adjusted(10, 2 * kHead + 6, -10, -8);
}
double ToneColours::toneAt(double x) const {
  return std::clamp((x - field().left()) / field().width(), 0.0, 1.0);
}
double ToneColours::xOf(double tone) const {
  return field().left() + tone * field().width();
}

int ToneColours::tackAt(QPointF at) const {
  for (int i = int(colours_.stops.size()); i-- > 0;) {
    if (std::abs(xOf(colours_.stops[std::size_t(i)].at) - at.x()) < kHead) return i;
  }
  return -1;
}

void ToneColours::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF f = field();
  paintTones(p, QRectF(rect()), f, {}, below_);
  // The tones in the colours that they become.
  p.save();
  p.setClipPath(histogramOutline(below_, f, true));
  for (int x = int(f.left()); x < int(f.right()); ++x)
    p.fillRect(QRectF(x, f.top(), 1, f.height()), colourOf(scene::colourOfTone(colours_, toneAt(x + 0.5))));
  p.restore();
  for (int x = int(f.left()); x < int(f.right()); ++x)
    p.fillRect(QRectF(x, f.bottom(), 1, 5), colourOf(scene::colourOfTone(colours_, toneAt(x + 0.5))));
  for (std::size_t i = 0; i < colours_.stops.size(); ++i) {
    const double x = xOf(colours_.stops[i].at);
    p.setPen(QPen(int(i) == chosen_ ? theme::colours().blue : theme::colours().text, int(i) == chosen_ ? 2.5 : 1.2));
    p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
    p.setBrush(colourOf(colours_.stops[i].colour));
    p.drawEllipse(QPointF(x, f.top() - kHead), kHead, kHead);
  }
  if (hasFocus()) paintFocus(p, QRectF(rect()));
}

bool ToneColours::move(double tone) {
  auto& stops = colours_.stops;
  const auto i = std::size_t(chosen_);
  const double low = i > 0 ? stops[i - 1].at + kGap : 0, high = i + 1 < stops.size() ? stops[i + 1].at - kGap : 1;
  if (low > high) return false;
  stops[i].at = std::clamp(tone, low, high);
  update();
  return true;
}

bool ToneColours::remove() {
  if (colours_.stops.size() <= 2) return false;
  colours_.stops.erase(colours_.stops.begin() + chosen_);
  chosen_ = std::max(0, chosen_ - 1);
  update();
  return true;
}

void ToneColours::mousePressEvent(QMouseEvent* event) {
  const int tack = tackAt(event->position());
  if (tack >= 0 && event->button() == Qt::RightButton) {
    chosen_ = tack;
    if (remove()) emit changed(colours_);
    return;
  }
  if (event->button() == Qt::RightButton) return;
  if (tack >= 0) {
    chosen_ = tack;
  } else if (field().contains(event->position()) && colours_.stops.size() < kMost) {
    const double tone = toneAt(event->position().x());
    auto& stops = colours_.stops;
    const auto next = std::find_if(stops.begin(), stops.end(), [tone](const auto& s) { return s.at > tone; });
    chosen_ = int(next - stops.begin());
    stops.insert(next, {tone, scene::colourOfTone(colours_, tone)});
    dragging_ = true;
    move(tone);
    emit changing(colours_);
  } else {
    return;
  }
  dragging_ = true;
  update();
}

void ToneColours::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return;
  move(toneAt(event->position().x()));
  emit changing(colours_);
}

void ToneColours::mouseReleaseEvent(QMouseEvent*) {
  if (!dragging_) return;
  dragging_ = false;
  emit changed(colours_);
}

void ToneColours::mouseDoubleClickEvent(QMouseEvent* event) {
  const int tack = tackAt(event->position());
  if (tack < 0) return;
  chosen_ = tack;
  dragging_ = false;
  askColour();
}

void ToneColours::askColour() {
  auto& stop = colours_.stops[std::size_t(chosen_)];
  const QColor c = QColorDialog::getColor(colourOf(stop.colour), this, tr("Colour of this tone"));
  if (!c.isValid()) return;
  stop.colour = {c.redF(), c.greenF(), c.blueF()};
  update();
  emit changed(colours_);
}

void ToneColours::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 0.05 : 0.01;
  const double at = colours_.stops[std::size_t(chosen_)].at;
  switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
      if (move(at + (event->key() == Qt::Key_Left ? -step : step))) emit changed(colours_);
      return;
    case Qt::Key_Space:
      chosen_ = (chosen_ + 1) % int(colours_.stops.size());
      update();
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      askColour();
      return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      if (remove()) emit changed(colours_);
      return;
    case Qt::Key_Plus: {
      if (colours_.stops.size() >= kMost) return;
      const auto i = std::size_t(std::min(chosen_, int(colours_.stops.size()) - 2));
      const double tone = (colours_.stops[i].at + colours_.stops[i + 1].at) / 2;
      colours_.stops.insert(colours_.stops.begin() + long(i) + 1, {tone, scene::colourOfTone(colours_, tone)});
      chosen_ = int(i) + 1;
      emit changed(colours_);
      return;
    }
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace hseam::app
