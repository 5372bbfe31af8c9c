#include "app/stations/look_over/numbers_beside.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr int kHead = 16;      // px: the words above each drawing
constexpr double kReach = 40;  // of a* and b*
constexpr int kFewPlaces = 150;

QPen solid() {
  return {theme::colours().blue, 2};
}
QPen dashed() {
  QPen p(theme::colours().text, 1.5);
  p.setDashPattern({3, 2.5});
  return p;
}

}  // namespace

NumbersBeside::NumbersBeside(QWidget* parent) : QWidget(parent) {
  setToolTip(tr(
      "Solid: the subject. Dashed or hollow: the scene around it. Tones: L* from the darkest to the lightest px; colours: a* to "
      "the right, b* up; grain by tone. Where both lie on each other, they belong together."));
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void NumbersBeside::setNumbers(const std::optional<findings::LayerNumbers>& numbers, const QString& name) {
  numbers_ = numbers;
  setVisible(numbers.has_value());
  if (numbers) {
    const auto middle = [](const findings::LayerNumbers::Side& s) { return s.lightness[findings::LayerNumbers::kShares / 2]; };
    setAccessibleName(tr("Numbers of %1 and of the scene").arg(name));
    setAccessibleDescription(tr("Its tones go from L* %1 over %2 to %3, the scene's from %4 over %5 to %6")
                                 .arg(double(numbers->own.lightness.front()), 0, 'f', 0)
                                 .arg(double(middle(numbers->own)), 0, 'f', 0)
                                 .arg(double(numbers->own.lightness.back()), 0, 'f', 0)
                                 .arg(double(numbers->scene.lightness.front()), 0, 'f', 0)
                                 .arg(double(middle(numbers->scene)), 0, 'f', 0)
                                 .arg(double(numbers->scene.lightness.back()), 0, 'f', 0));
  }
  update();
}

void NumbersBeside::paintTones(QPainter& p, const QRectF& at) const {
  for (const bool own : {false, true}) {
    const auto& l = (own ? numbers_->own : numbers_->scene).lightness;
    QPainterPath way;
    for (std::size_t k = 0; k < l.size(); ++k) {
      const QPointF to(at.left() + at.width() * double(k) / double(l.size() - 1), at.bottom() - at.height() * double(l[k]) / 100);
      k == 0 ? way.moveTo(to) : way.lineTo(to);
    }
    p.strokePath(way, own ? solid() : dashed());
  }
}

void NumbersBeside::paintColours(QPainter& p, const QRectF& at) const {
  p.setPen(QPen(theme::colours().line, 1));
  p.drawLine(QPointF(at.center().x(), at.top()), QPointF(at.center().x(), at.bottom()));
  p.drawLine(QPointF(at.left(), at.center().y()), QPointF(at.right(), at.center().y()));
  for (const bool own : {false, true}) {
    QColor c = own ? theme::colours().blue : theme::colours().text;
    c.setAlpha(own ? 150 : 110);
    p.setPen(own ? Qt::NoPen : QPen(c, 1));
    p.setBrush(own ? QBrush(c) : QBrush(Qt::NoBrush));
    for (const auto& [a, b] : (own ? numbers_->own : numbers_->scene).colours) {
      const double x = std::clamp(double(a) / kReach, -1.0, 1.0), y = std::clamp(double(b) / kReach, -1.0, 1.0);
      p.drawEllipse(QPointF(at.center().x() + x * at.width() / 2, at.center().y() - y * at.height() / 2), 1.6, 1.6);
    }
  }
}

void NumbersBeside::paintGrain(QPainter& p, const QRectF& at) const {
  double most = 2.0 / 255;
  for (const auto* s : {&numbers_->own, &numbers_->scene}) {
    for (int k = 0; k < measure::kGrainBins; ++k) {
      if (s->grain.places[std::size_t(k)] >= kFewPlaces) most = std::max(most, s->grain.sigma[std::size_t(k)]);
    }
  }
  const double step = at.width() / measure::kGrainBins;
  for (int k = 0; k < measure::kGrainBins; ++k) {
    for (const bool own : {false, true}) {
      const auto& g = (own ? numbers_->own : numbers_->scene).grain;
      if (g.places[std::size_t(k)] < kFewPlaces) continue;
      const double h = at.height() * g.sigma[std::size_t(k)] / most;
      const QRectF bar(at.left() + k * step + (own ? 0.14 : 0.54) * step, at.bottom() - h, 0.34 * step, h);
      p.setPen(own ? Qt::NoPen : QPen(theme::colours().text, 1));
      p.setBrush(own ? QBrush(theme::colours().blue) : QBrush(Qt::NoBrush));
      p.drawRect(bar);
    }
  }
}

void NumbersBeside::paintEvent(QPaintEvent*) {
  if (!numbers_) return;
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  constexpr int kGap = 8;
  const double width = (this->width() - 2.0 * kGap) / 3, height = this->height() - kHead - 2.0;
  const QString heads[] = {tr("tones"), tr("colours"), tr("grain by tone")};
  void (NumbersBeside::*const paint[])(QPainter&, const QRectF&)
      const = {&NumbersBeside::paintTones, &NumbersBeside::paintColours, &NumbersBeside::paintGrain};
  for (int k = 0; k < 3; ++k) {
    const QRectF at(k * (width + kGap), kHead, width, height);
    p.setPen(theme::colours().quiet);
    p.drawText(QRectF(at.left(), 0, width, kHead), Qt::AlignLeft | Qt::AlignVCenter, heads[k]);
    p.setPen(QPen(theme::colours().line, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(at);
    p.save();
    p.setClipRect(at);
    (this->*paint[k])(p, at.adjusted(3, 3, -3, -3));
    p.restore();
  }
}

}  // namespace hseam::app
