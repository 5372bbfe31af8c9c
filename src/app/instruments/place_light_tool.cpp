#include "app/instruments/place_light_tool.h"

#include <cmath>

#include "app/instruments/thread.h"

namespace hseam::app {
namespace {

constexpr double kReachPx = 14;      // of the widget: so near a handle is taken
constexpr double kShortestPx = 6;    // scene px: a click is no shadow
constexpr double kUsualHeight = 45;  // of the light, degrees, until the top is shown

double spanOf(base::Point a, base::Point b) {
  return std::hypot(a.x - b.x, a.y - b.y);
}

}  // namespace

std::optional<scene::SeenShadow> PlaceLightTool::seen() const {
  const auto& light = session_.shown().light;
  return light && light->casts ? light->seen : std::nullopt;
}

std::optional<scene::SeenShadow> PlaceLightTool::dragged(Grip grip, base::Point to) const {
  const scene::Scene& s = session_.scene();
  const scene::FloorCamera camera(scene::floorOf(s), s.canvas);
  scene::SeenShadow next = s.light ? s.light->seen.value_or(scene::SeenShadow{}) : scene::SeenShadow{};
  if (grip == Grip::fresh) {
    const auto top = scene::topUnder(from_, to, kUsualHeight, camera);
    if (!top) return std::nullopt;
    next = {from_, *top, to};
  } else if (grip == Grip::foot) {
    next.top.x += to.x - next.foot.x, next.top.y += to.y - next.foot.y;
    next.foot = to;
  } else {
    (grip == Grip::top ? next.top : next.tip) = to;
  }
  const bool tells = scene::lightFromShadow(next, camera) && spanOf(next.foot, next.tip) >= kShortestPx;
  return tells ? std::optional(next) : std::nullopt;
}

void PlaceLightTool::keep(const scene::SeenShadow& seen) {
  const scene::PlaceLight light = shown_(seen);
  if (session_.scene().light != light) {
    session_.apply(scene::SetPlaceLight{light});
  } else {
    session_.draft(std::nullopt);
  }
}

void PlaceLightTool::press(const Touch& touch) {
  from_ = {touch.at.x(), touch.at.y()};
  grip_ = Grip::fresh;
  const auto drawn = seen();
  if (!drawn) return;
  const auto near = [&](base::Point p) { return spanOf(p, from_) * widgetScale_ < kReachPx; };
  if (near(drawn->top)) grip_ = Grip::top;
  if (near(drawn->foot)) grip_ = Grip::foot;
  if (near(drawn->tip)) grip_ = Grip::tip;
}

void PlaceLightTool::move(const Touch& touch) {
  if (grip_ == Grip::none) return;
  const auto next = dragged(grip_, {touch.at.x(), touch.at.y()});
  if (!next) return;
  scene::PlaceLight light = session_.scene().light.value_or(scene::PlaceLight{});
  light.casts = true;
  light.seen = next;
  session_.draft(scene::SetPlaceLight{light});
}

void PlaceLightTool::release(const Touch& touch) {
  if (grip_ == Grip::none) return;
  const base::Point to{touch.at.x(), touch.at.y()};
  const auto next = dragged(grip_, to);
  const bool clicked = spanOf(from_, to) < kShortestPx;
  grip_ = Grip::none;
  if (next && !clicked) return keep(*next);
  session_.draft(std::nullopt);
  if (!clicked) {
    emit messages_.said(QObject::tr(
        "No light can be told from that: foot and tip lie on the floor, below the horizon, and the top above the foot"));
  }
}

void PlaceLightTool::cancel() {
  if (grip_ != Grip::none) session_.draft(std::nullopt);
  grip_ = Grip::none;
}

bool PlaceLightTool::nudge(double dx, double dy) {
  const auto drawn = seen();
  if (!drawn) return false;
  if (const auto next = dragged(Grip::tip, {drawn->tip.x + dx, drawn->tip.y + dy})) keep(*next);
  return true;
}

void PlaceLightTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::sqrt(std::abs(toWidget.determinant()));
  const auto drawn = seen();
  if (!drawn) return;
  const auto at = [&](base::Point p) { return toWidget.map(QPointF(p.x, p.y)); };
  const QPointF foot = at(drawn->foot), top = at(drawn->top), tip = at(drawn->tip);
  painter.setRenderHint(QPainter::Antialiasing);
  drawThread(painter, foot, top);
  drawThread(painter, foot, tip);
  painter.setBrush(theme::colours().blue);
  painter.drawRect(QRectF(foot.x() - 5, foot.y() - 5, 10, 10));
  painter.drawEllipse(top, 6, 6);
  painter.drawEllipse(tip, 6, 6);
  painter.setFont(theme::font(theme::Size::small, true));
  const auto named = [&](const QPointF& where, const QString& words) {
    const QRectF room = painter.fontMetrics().boundingRect(words).adjusted(-5, -2, 5, 2);
    QRectF box(where + QPointF(11, -room.height() / 2), room.size());
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::colours().base);
    painter.drawRoundedRect(box, 4, 4);
    painter.setPen(theme::colours().text);
    painter.drawText(box, Qt::AlignCenter, words);
  };
  named(top, QObject::tr("its top"));
  named(tip, QObject::tr("tip of its shadow"));
}

QString PlaceLightTool::doing() const {
  if (seen()) return QObject::tr("drag its top, its foot or the shadow's tip");
  return QObject::tr("drag from the foot of something upright to the tip of its shadow");
}

}  // namespace hseam::app
