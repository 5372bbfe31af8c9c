// Rulers and guides of the canvas.

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/canvas/canvas.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr int kRuler = 20;           // px of the screen
constexpr double kGuideReachPx = 6;  // of a guide, on the screen
constexpr double kLeastStepPx = 60;
constexpr int kFanLines = 18;
constexpr double kFanHub = 16;  // px of the screen around its point that stay free

// 1, 2 or 5 times a power of ten scene px between two numbers.
double rulerStep(double zoom) {
  double step = 1;
  for (int i = 0; step * zoom < kLeastStepPx; ++i) step *= i % 3 == 1 ? 2.5 : 2;
  return step;
}

}  // namespace

void Canvas::setRulers(bool on) {
  if (on == rulers_) return;
  rulers_ = on;
  guide_.reset();
  update();
}

void Canvas::drawGuides(QPainter& painter) const {
  const auto& all = guide_ ? guides_ : tiles_.scene().guides;
  const QTransform map = toWidget();
  const auto line = [&](const QLineF& l, bool one) {
    painter.setPen(QPen(QColor(0, 0, 0, one ? 120 : 60), one ? 3 : 2));
    painter.drawLine(l);
    painter.setPen(QPen(QColor(156, 196, 236, one ? 255 : 170), 1, one ? Qt::DashDotLine : Qt::SolidLine));
    painter.drawLine(l);
  };
  for (const scene::Guide& g : all) {
    if (g.meets) {
      const QPointF at = map.map(QPointF(g.meets->x, g.meets->y));
      const double far = 2 * (width() + height()) + std::hypot(at.x() - width() / 2.0, at.y() - height() / 2.0);
      painter.save();
      painter.setRenderHint(QPainter::Antialiasing);
      for (int i = 0; i < 2 * kFanLines; ++i) {
        const double t = M_PI * i / kFanLines;
        const QPointF along(std::cos(t), std::sin(t));
        line(QLineF(at + kFanHub * along, at + far * along), false);
      }
      painter.setBrush(QColor(156, 196, 236));
      painter.drawEllipse(at, 4, 4);
      painter.restore();
      continue;
    }
    const QPointF at = map.map(g.vertical ? QPointF(g.at, 0) : QPointF(0, g.at));
    line(g.vertical ? QLineF(at.x(), 0, at.x(), height()) : QLineF(0, at.y(), width(), at.y()), true);
  }
}

void Canvas::drawRulers(QPainter& painter) const {
  painter.fillRect(QRect(0, 0, width(), kRuler), theme::colours().base);
  painter.fillRect(QRect(0, 0, kRuler, height()), theme::colours().base);
  painter.setFont(theme::font(theme::Size::small));
  painter.setPen(theme::colours().quiet);
  const QTransform map = toWidget(), back = map.inverted();
  const double step = rulerStep(zoom_);
  const QRectF seen = back.mapRect(QRectF(rect()));
  for (double x = std::floor(seen.left() / step) * step; x <= seen.right(); x += step) {
    const double at = map.map(QPointF(x, 0)).x();
    if (at < kRuler) continue;
    painter.drawLine(QPointF(at, 12), QPointF(at, kRuler));
    painter.drawText(QPointF(at + 3, 13), QString::number(x, 'f', 0));
  }
  for (double y = std::floor(seen.top() / step) * step; y <= seen.bottom(); y += step) {
    const double at = map.map(QPointF(0, y)).y();
    if (at < kRuler) continue;
    painter.drawLine(QPointF(12, at), QPointF(kRuler, at));
    painter.save();
    painter.translate(13, at + 3);
    painter.rotate(90);
    painter.drawText(QPointF(0, 0), QString::number(y, 'f', 0));
    painter.restore();
  }
  painter.fillRect(QRect(0, 0, kRuler, kRuler), theme::colours().raised);
}

// In a ruler a new guide begins; on a guide that one is taken up.
bool Canvas::pressGuide(QPointF p) {
  if (!rulers_) return false;
  guides_ = tiles_.scene().guides;
  if (p.x() < kRuler || p.y() < kRuler) {
    guides_.push_back({p.x() < kRuler, 0});
    guide_ = guides_.size() - 1;
    moveGuide(p, false);
    return true;
  }
  const QTransform map = toWidget();
  for (std::size_t i = 0; i < guides_.size(); ++i) {
    const scene::Guide& g = guides_[i];
    if (g.meets) {
      const QPointF off = map.map(QPointF(g.meets->x, g.meets->y)) - p;
      if (std::hypot(off.x(), off.y()) > kGuideReachPx) continue;
      guide_ = i;
      return true;
    }
    const QPointF at = map.map(g.vertical ? QPointF(g.at, 0) : QPointF(0, g.at));
    if (std::abs(g.vertical ? at.x() - p.x() : at.y() - p.y()) > kGuideReachPx) continue;
    guide_ = i;
    return true;
  }
  return false;
}

void Canvas::moveGuide(QPointF p, bool done) {
  scene::Guide& g = guides_[*guide_];
  const QPointF at = toWidget().inverted().map(p);
  if (g.meets) {
    g.meets = {std::round(at.x()), std::round(at.y())};
  } else {
    g.at = std::round(g.vertical ? at.x() : at.y());
  }
  if (done) {
    if ((g.vertical || g.meets ? p.x() : p.y()) < kRuler) guides_.erase(guides_.begin() + long(*guide_));
    guide_.reset();
    emit guidesDragged(guides_);
  }
  update();
}

}  // namespace hseam::app
