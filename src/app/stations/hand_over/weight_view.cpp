#include "app/stations/hand_over/weight_view.h"

#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/raster_image.h"

namespace hseam::app {
namespace {

constexpr double kMargin = 16, kAxisLeft = 64, kAxisBelow = 40, kDot = 5, kTextHeight = 22;
constexpr double kChartShare = 0.45;  // of the height
constexpr int kTicks = 4;

}  // namespace

QString inKb(std::int64_t bytes) {
  return QObject::tr("%1 kB").arg(QLocale().toString(qlonglong(bytes + 999) / 1000));
}

WeightView::WeightView(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Weight against likeness"));
  setAccessibleDescription(tr("weighs qualities"));
  setToolTip(tr("Each point is a real file. A click or an arrow key chooses one; below is the place that suffers most"));
}

void WeightView::show(std::vector<deliver::Trial> trials) {
  trials_ = std::move(trials);
  chosen_ = std::clamp(chosen_, 0, std::max(0, int(trials_.size()) - 1));
  update();
}

void WeightView::choose(int trial) {
  chosen_ = trial;
  update();
}

void WeightView::setLimit(std::optional<double> bytes) {
  limit_ = bytes;
  update();
}

QRectF WeightView::chart() const {
  return QRectF(kAxisLeft, kMargin + kTextHeight, width() - kAxisLeft - 2 * kMargin,
                std::max(40.0, height() * kChartShare - kAxisBelow - kTextHeight - kMargin));
}

// Weight by its logarithm; likeness from the least of the trials to 1.
QPointF WeightView::at(double bytes, double likeness) const {
  const auto [least, most] =
      std::minmax_element(trials_.begin(), trials_.end(), [](const auto& a, const auto& b) { return a.bytes < b.bytes; });
  double low = 1;
  for (const deliver::Trial& t : trials_) low = std::min(low, t.likeness.worst);
  const double from = std::log(double(least->bytes) * 0.9), to = std::log(double(most->bytes) * 1.1);
  const QRectF c = chart();
  return {c.left() + std::clamp((std::log(std::max(1.0, bytes)) - from) / (to - from), 0.0, 1.0) * c.width(),
          c.bottom() - (likeness - low) / std::max(1e-6, 1 - low) * c.height()};
}

QPointF WeightView::placeOf(int trial) const {
  const deliver::Trial& t = trials_[std::size_t(trial)];
  return at(double(t.bytes), t.likeness.mean);
}

void WeightView::paintChart(QPainter& p) const {
  const auto& colours = theme::colours();
  const QRectF c = chart();
  double low = 1;
  for (const deliver::Trial& t : trials_) low = std::min(low, t.likeness.worst);
  p.setFont(theme::font(theme::Size::small));
  p.setPen(colours.quiet);
  p.drawText(QRectF(c.left(), kMargin / 2, c.width(), kTextHeight), Qt::AlignLeft | Qt::AlignVCenter,
             tr("How like the picture a file stays (SSIM): on the whole, and dashed at its worst place"));
  for (int i = 0; i <= kTicks; ++i) {
    const double v = low + (1 - low) * i / kTicks, y = c.bottom() - c.height() * i / kTicks;
    p.setPen(colours.line);
    p.drawLine(QPointF(c.left(), y), QPointF(c.right(), y));
    p.setPen(colours.quiet);
    p.drawText(QRectF(0, y - kTextHeight / 2, c.left() - 8, kTextHeight), Qt::AlignRight | Qt::AlignVCenter,
               QLocale().toString(v, 'f', 3));
  }
  const auto line = [&](const QPen& pen, const auto& likeness) {
    QPolygonF points;
    for (const deliver::Trial& t : trials_) points << at(double(t.bytes), likeness(t));
    p.setPen(pen);
    p.setBrush(Qt::NoBrush);
    p.drawPolyline(points);
  };
  line(QPen(colours.quiet, 1, Qt::DashLine), [](const deliver::Trial& t) { return t.likeness.worst; });
  line(QPen(colours.text, 1.5), [](const deliver::Trial& t) { return t.likeness.mean; });
  if (limit_) {
    const double x = at(*limit_, 1).x();
    p.setPen(QPen(colours.orange, 1.5));
    p.drawLine(QPointF(x, c.top()), QPointF(x, c.bottom()));
  }
  double free = -1;  // words that would run into each other are left out, but those of the chosen one
  for (int i = 0; i < int(trials_.size()); ++i) {
    const QPointF dot = placeOf(i);
    p.setPen(QPen(colours.sunk, 1));
    p.setBrush(i == chosen_ ? colours.blue : colours.text);
    p.drawEllipse(dot, kDot, kDot);
    const QString words = inKb(trials_[std::size_t(i)].bytes);
    const double wide = QFontMetricsF(p.font()).horizontalAdvance(words), left = dot.x() - wide / 2;
    const double chosenX = placeOf(chosen_).x();
    if (i != chosen_ && (left < free || std::abs(dot.x() - chosenX) < wide + 12)) continue;
    free = left + wide + 12;
    p.setPen(i == chosen_ ? colours.blue : colours.quiet);
    p.drawText(QRectF(left - 20, c.bottom() + 6, wide + 40, kTextHeight), Qt::AlignCenter, words);
  }
}

void WeightView::paintCrops(QPainter& p) const {
  const auto& colours = theme::colours();
  const deliver::Trial& t = trials_[std::size_t(chosen_)];
  const double top = height() * kChartShare + kTextHeight, room = (width() - 3 * kMargin) / 2,
               tall = height() - top - kMargin - kTextHeight;
  // Whole multiples only: what is compared must not be softened.
  const double k = std::max(1.0, std::floor(std::min(room / t.before.width(), tall / t.before.height())));
  const auto& at = t.likeness.worstAt;
  const QString words[] = {tr("As it is, around %1, %2").arg(at.x + at.width / 2).arg(at.y + at.height / 2),
                           tr("Quality %1, %2: the worst place, %3")
                               .arg(t.quality)
                               .arg(inKb(t.bytes))
                               .arg(QLocale().toString(t.likeness.worst, 'f', 3))};
  const image::Raster<std::uint8_t>* crops[] = {&t.before, &t.after};
  for (int i = 0; i < 2; ++i) {
    const QRectF field(kMargin + i * (room + kMargin), top, room, tall);
    p.setPen(colours.quiet);
    p.drawText(QRectF(field.left(), top - kTextHeight, room, kTextHeight), Qt::AlignLeft | Qt::AlignVCenter, words[i]);
    const QImage crop = imageOf(*crops[i]);
    p.save();
    p.setClipRect(field);
    p.setRenderHint(QPainter::SmoothPixmapTransform, false);
    p.drawImage(QRectF(field.left(), field.top(), crop.width() * k, crop.height() * k), crop);
    p.restore();
  }
}

void WeightView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), theme::colours().open);
  if (trials_.empty()) return;
  paintChart(p);
  paintCrops(p);
  if (hasFocus()) {
    p.setPen(QPen(theme::colours().blue, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
  }
}

void WeightView::mousePressEvent(QMouseEvent* event) {
  if (trials_.empty() || event->position().y() > height() * kChartShare) return;
  int nearest = 0;
  for (int i = 1; i < int(trials_.size()); ++i) {
    if (std::abs(placeOf(i).x() - event->position().x()) < std::abs(placeOf(nearest).x() - event->position().x())) nearest = i;
  }
  emit chosenByHand(nearest);
}

void WeightView::keyPressEvent(QKeyEvent* event) {
  const int by = event->key() == Qt::Key_Right ? 1 : (event->key() == Qt::Key_Left ? -1 : 0);
  if (by == 0 || trials_.empty()) {
    QWidget::keyPressEvent(event);
    return;
  }
  emit chosenByHand(std::clamp(chosen_ + by, 0, int(trials_.size()) - 1));
}

}  // namespace hseam::app
