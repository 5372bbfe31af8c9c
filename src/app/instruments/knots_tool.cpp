#include "app/instruments/knots_tool.h"

#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kKnot = 11;  // radius on the screen

}  // namespace

// In the middle of where they are; those of one place side by side.
std::vector<QPointF> KnotsTool::places() const {
  std::vector<QPointF> out;
  const auto* all = hooks_.findings();
  if (!all) return out;
  for (std::size_t i = 0; i < all->size(); ++i) {
    const base::Rect r = (*all)[i].region;
    int before = 0, alike = 0;
    for (std::size_t k = 0; k < all->size(); ++k) {
      if (!((*all)[k].region == r)) continue;
      before += k < i;
      ++alike;
    }
    const double step = (2 * kKnot + 5) / widgetScale_;
    out.emplace_back(r.x + r.width / 2.0 + (before - (alike - 1) / 2.0) * step, r.y + r.height * 0.38);
  }
  return out;
}

void KnotsTool::press(const Touch& touch) {
  int best = -1;
  double least = 1e18;
  const auto all = places();
  for (std::size_t i = 0; i < all.size(); ++i) {
    const double d = std::hypot(all[i].x() - touch.at.x(), all[i].y() - touch.at.y());
    if (d < least) least = d, best = int(i);
  }
  if (best >= 0) hooks_.choose(best);
}

void KnotsTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::max(1e-6, std::abs(toWidget.m22()));
  const auto* all = hooks_.findings();
  if (!all) return;
  painter.setRenderHint(QPainter::Antialiasing);
  const int chosen = hooks_.chosen();
  if (chosen >= 0 && chosen < int(all->size())) {
    const base::Rect r = (*all)[std::size_t(chosen)].region;
    QPen thread(theme::colours().orange, 2);
    thread.setDashPattern({4, 3});
    painter.setPen(thread);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(toWidget.mapRect(QRectF(r.x, r.y, r.width, r.height)));
  }
  painter.setFont(theme::font(theme::Size::small, true));
  const auto at = places();
  for (std::size_t i = 0; i < at.size(); ++i) {
    const QPointF p = toWidget.map(at[i]);
    const bool in = int(i) == chosen;
    painter.setPen(QPen(in ? theme::colours().orange : QColor(30, 30, 30), in ? 3 : 1.5));
    painter.setBrush(QColor(250, 250, 250));
    painter.drawEllipse(p, kKnot, kKnot);
    painter.setPen(QColor(20, 20, 20));
    painter.drawText(QRectF(p.x() - kKnot, p.y() - kKnot, 2 * kKnot, 2 * kKnot), Qt::AlignCenter, QString::number(i + 1));
  }
}

}  // namespace hseam::app
