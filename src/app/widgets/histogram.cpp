#include "app/widgets/histogram.h"

#include <QPainter>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kTallest = 0.92;  // of the field

QColor textColour(int alpha) {
  QColor c = theme::colours().text;
  c.setAlpha(alpha);
  return c;
}

}  // namespace

QPainterPath histogramOutline(const Histogram& histogram, const QRectF& field, bool closed) {
  const auto at = [&](double x, double y) {
    return QPointF(field.left() + x * field.width(), field.bottom() - y * field.height());
  };
  QPainterPath path;
  for (std::size_t i = 0; i < histogram.size(); ++i) {
    const QPointF p = at(double(i) / double(histogram.size() - 1), kTallest * double(histogram[i]));
    i == 0 ? path.moveTo(p) : path.lineTo(p);
  }
  if (closed) {
    path.lineTo(at(1, 0));
    path.lineTo(at(0, 0));
  }
  return path;
}

void paintTones(QPainter& p, const QRectF& ground, const QRectF& field, const Histogram& now, const Histogram& below) {
  p.setPen(Qt::NoPen);
  p.setBrush(theme::colours().sunk);
  p.drawRoundedRect(ground, 4, 4);
  p.setBrush(textColour(46));
  p.drawPath(histogramOutline(now, field, true));
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(textColour(90), 1));
  p.drawPath(histogramOutline(below, field, false));
}

void paintFocus(QPainter& p, const QRectF& ground) {
  p.setPen(QPen(theme::colours().blue, 1));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(ground.adjusted(.5, .5, -.5, -.5), 4, 4);
}

}  // namespace hseam::app
