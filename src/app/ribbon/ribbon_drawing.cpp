#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/ribbon/seam_ribbon.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr float kSoftTop = 16, kHaloTop = 12, kStepTop = 60;  // of the scales: px, CIEDE2000, L* to each side
constexpr float kHaloTolerance = 3;                           // a rim that is seen

QColor inkOf(matte::EdgeKind kind) {
  return kind == matte::EdgeKind::solid ? theme::colours().quiet : theme::colours().blue;
}

}  // namespace

void SeamRibbon::paintMap(QPainter& painter) const {
  const auto& all = outline_->places;
  QRectF box;
  for (const auto& p : all) {
    const QRectF one(p.at.x, p.at.y, 1, 1);
    box = box.isNull() ? one : box.united(one);
  }
  const double scale = std::min((kMap - 16) / box.width(), (kHeight - 36) / box.height());
  const QPointF origin(10 + (kMap - 16 - box.width() * scale) / 2, 10 + (kHeight - 36 - box.height() * scale) / 2);
  const auto at = [&](std::size_t i) {
    return QPointF(origin.x() + (all[i].at.x - box.x()) * scale, origin.y() + (all[i].at.y - box.y()) * scale);
  };
  const auto draw = [&](int from, int to, const QPen& pen) {
    painter.setPen(pen);
    QPainterPath path;
    int outline = -1;
    const int step = std::max(1, int(1 / scale));
    for (int i = from; i < to; i += step) {
      const auto k = std::size_t(i);
      all[k].outline == outline ? path.lineTo(at(k)) : path.moveTo(at(k));
      outline = all[k].outline;
    }
    painter.drawPath(path);
  };
  draw(0, places(), QPen(theme::colours().quiet, 1));
  draw(shown_.first, std::min(places(), shown_.first + columns()), QPen(theme::colours().text, 2.5));
  if (hover_ && *hover_ < places()) {
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::colours().blue);
    painter.drawEllipse(at(std::size_t(*hover_)), 4, 4);
    painter.setBrush(Qt::NoBrush);
  }
}

void SeamRibbon::paintTrace(QPainter& painter) const {
  const QRect area = traceArea();
  const bool step = trace_ == Trace::toneStep;
  const float top = trace_ == Trace::softness ? kSoftTop : (step ? kStepTop : kHaloTop);
  // Steps go both ways from the middle.
  const auto y = [&](float v) {
    const double share = double(std::clamp(v, -top, top) / top), height = area.height() - 16;
    return step ? area.bottom() - height / 2 - share * height / 2 : area.bottom() - share * height;
  };
  const auto value = [&](std::size_t i) {
    const matte::EdgeReading& r = shown_.readings[i];
    return step ? shown_.toneSteps[i] : (trace_ == Trace::softness ? r.softnessPx : r.halo);
  };
  painter.setFont(theme::font(theme::Size::small));
  painter.setPen(theme::colours().line);
  painter.drawLine(QPointF(area.left(), y(0)), QPointF(area.right(), y(0)));
  if (trace_ == Trace::halo) {
    painter.setPen(QPen(theme::colours().orange, 1, Qt::DashLine));
    painter.drawLine(QPointF(area.left(), y(kHaloTolerance)), QPointF(area.right(), y(kHaloTolerance)));
  }
  QPolygonF line;
  for (std::size_t i = 0; i < shown_.readings.size(); ++i) line << QPointF(area.left() + double(i), y(value(i)));
  painter.setPen(QPen(theme::colours().text, 1));
  painter.drawPolyline(line);
  // The kinds, by the way they are stitched: solid, dashed, dotted.
  for (std::size_t i = 0; i < shown_.readings.size();) {
    std::size_t end = i;
    while (end < shown_.readings.size() && shown_.readings[end].kind == shown_.readings[i].kind) ++end;
    const matte::EdgeKind kind = shown_.readings[i].kind;
    constexpr Qt::PenStyle kStyles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    painter.setPen(QPen(inkOf(kind), 3, kStyles[std::size_t(kind)]));
    painter.drawLine(area.left() + int(i), area.top() - 5, area.left() + int(end) - 2, area.top() - 5);
    i = end;
  }
  painter.setPen(theme::colours().blue);
  const QString names[] = {tr("edge softness, px (scale 0 to 16)"), tr("halo, colour difference (scale 0 to 12; seen above 3)"),
                           tr("tone step, L* outside minus inside (scale ±60)")};
  painter.drawText(area, Qt::AlignLeft | Qt::AlignTop, names[int(trace_)]);
  painter.drawText(groundWordArea(), Qt::AlignCenter, overScene_ ? tr("over the scene") : tr("over the ground"));
  const QString words = hover_ ? describePlace(*hover_) : QString();
  painter.setPen(theme::colours().text);
  painter.drawText(area, Qt::AlignRight | Qt::AlignTop, words);
}

void SeamRibbon::paintMark(QPainter& painter) const {
  std::vector<bool> on(outline_->places.size(), false);
  if (mark_) on = matte::placesOn(*outline_, *mark_);
  if (markFrom_ && hover_) {
    for (int i = std::min(*markFrom_, *hover_); i <= std::max(*markFrom_, *hover_) && i < int(on.size()); ++i)
      on[std::size_t(i)] = true;
  }
  const QRect strip = stripArea(), kinds = kindArea();
  painter.setPen(Qt::NoPen);
  QColor veil = theme::colours().blue;
  veil.setAlpha(70);
  for (int i = 0; i < shown_.strip.width(); ++i) {
    const auto k = std::size_t(shown_.first + i);
    if (k >= on.size() || !on[k]) continue;
    painter.fillRect(strip.left() + i, kinds.top(), 1, kinds.height(), theme::colours().blue);
    painter.fillRect(strip.left() + i, strip.top() - 3, 1, 3, theme::colours().blue);
    painter.fillRect(strip.left() + i, strip.bottom() + 1, 1, 3, theme::colours().blue);
  }
}

// Bars along the strip's lower side, one row a finding, with its name where it begins.
void SeamRibbon::paintFindings(QPainter& painter) const {
  const QRect strip = stripArea();
  painter.setFont(theme::font(theme::Size::small));
  int row = 0;
  for (const Found& f : found_) {
    // What lies all along the edge is said, not drawn.
    if (std::all_of(outline_->places.begin(), outline_->places.end(),
                    [&](const auto& p) { return f.where.contains(QPointF(p.at.x, p.at.y)); })) {
      const QString words = tr("all along: %1").arg(f.name);
      const QRect word(strip.left(), strip.bottom() - 15 - 16 * row, painter.fontMetrics().horizontalAdvance(words) + 10, 16);
      painter.fillRect(word, theme::colours().base);
      painter.setPen(theme::colours().orange);
      painter.drawText(word, Qt::AlignCenter, words);
      ++row;
      continue;
    }
    const int y = strip.bottom() - 5 * (row + 1);
    int begun = -1;
    const int end = std::min(columns(), places() - shown_.first);
    for (int i = 0; i <= end; ++i) {
      const bool here = i < end && f.where.contains(QPointF(outline_->places[std::size_t(shown_.first + i)].at.x,
                                                            outline_->places[std::size_t(shown_.first + i)].at.y));
      if (here && begun < 0) begun = i;
      if (here || begun < 0) continue;
      const QRect bar(strip.left() + begun, y, i - begun, 4);
      painter.fillRect(bar.adjusted(0, -1, 0, 1), QColor(0, 0, 0, 150));
      painter.fillRect(bar, theme::colours().orange);
      const int wide = painter.fontMetrics().horizontalAdvance(f.name) + 8;
      if (bar.width() > wide) {
        const QRect word(bar.left(), y - 15 - 3 * row, wide, 15);
        painter.fillRect(word, theme::colours().base);
        painter.setPen(theme::colours().text);
        painter.drawText(word, Qt::AlignCenter, f.name);
      }
      begun = -1;
    }
    ++row;
  }
}

void SeamRibbon::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::colours().base);
  painter.setRenderHint(QPainter::Antialiasing);
  if (mask_.isNull() || !outline_ || outline_->places.empty()) {
    painter.setPen(theme::colours().quiet);
    painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                     mask_.isNull() ? tr("Once the layer has a mask, its whole edge is unrolled here")
                                    : (awaited_ ? tr("Unrolling the edge…") : tr("The mask has no edge")));
    return;
  }
  paintMap(painter);
  const QRect strip = stripArea();
  painter.fillRect(strip, theme::colours().sunk);
  painter.drawImage(strip.topLeft(), shown_.strip);
  paintMark(painter);
  paintFindings(painter);
  paintTrace(painter);
  if (hover_) {
    const int x = strip.left() + *hover_ - shown_.first;
    painter.setPen(QPen(theme::colours().blue, 1));
    painter.drawLine(x, strip.top(), x, traceArea().bottom());
  }
  if (hasFocus()) {
    painter.setPen(QPen(theme::colours().blue, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

}  // namespace hseam::app
