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

scene::PlaceLight PlaceLightTool::now() const {
  return session_.shown().light.value_or(scene::PlaceLight{});
}

std::optional<scene::PlaceLight> PlaceLightTool::dragged(Grip grip, base::Point to) const {
  const scene::Scene& s = session_.scene();
  const scene::FloorCamera camera(scene::floorOf(s), s.canvas);
  scene::PlaceLight light = s.light.value_or(scene::PlaceLight{});
  light.casts = true;
  scene::SeenShadow seen = light.seen.value_or(scene::SeenShadow{});
  if (grip == Grip::fresh) {
    const auto top = scene::topUnder(from_, to, kUsualHeight, camera);
    if (!top) return std::nullopt;
    seen = {from_, *top, to};
  } else if (grip == Grip::foot) {
    seen.top.x += to.x - seen.foot.x, seen.top.y += to.y - seen.foot.y;
    seen.foot = to;
  } else {
    (grip == Grip::top ? seen.top : seen.tip) = to;
  }
  const auto from = scene::lightFromShadow(seen, camera);
  if (!from || spanOf(seen.foot, seen.tip) < kShortestPx) return std::nullopt;
  light.seen = seen;
  light.from = {from->azimuthDeg, from->elevationDeg, light.from.sizeDeg};
  return light;
}

void PlaceLightTool::keep(const scene::PlaceLight& light) {
  const scene::PlaceLight all = finished_(light);
  if (session_.scene().light != all) {
    session_.apply(scene::SetPlaceLight{all});
  } else {
    session_.draft(std::nullopt);
  }
}

void PlaceLightTool::press(const Touch& touch) {
  from_ = {touch.at.x(), touch.at.y()};
  grip_ = Grip::fresh;
  const auto seen = now().casts ? now().seen : std::nullopt;
  if (!seen) return;
  const auto near = [&](base::Point p) { return spanOf(p, from_) * widgetScale_ < kReachPx; };
  if (near(seen->top)) grip_ = Grip::top;
  if (near(seen->foot)) grip_ = Grip::foot;
  if (near(seen->tip)) grip_ = Grip::tip;
}

void PlaceLightTool::move(const Touch& touch) {
  if (grip_ == Grip::none) return;
  if (const auto next = dragged(grip_, {touch.at.x(), touch.at.y()})) session_.draft(scene::SetPlaceLight{next});
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
  const auto& light = session_.scene().light;
  if (!light || !light->casts || !light->seen) return false;
  if (const auto next = dragged(Grip::tip, {light->seen->tip.x + dx, light->seen->tip.y + dy})) keep(*next);
  return true;
}

void PlaceLightTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::sqrt(std::abs(toWidget.determinant()));
  const auto seen = now().casts ? now().seen : std::nullopt;
  if (!seen) return;
  const auto at = [&](base::Point p) { return toWidget.map(QPointF(p.x, p.y)); };
  const QPointF foot = at(seen->foot), top = at(seen->top), tip = at(seen->tip);
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
  if (now().casts && now().seen) return QObject::tr("drag its top, its foot or the shadow's tip");
  return QObject::tr("drag from the foot of something upright to the tip of its shadow");
}

}  // namespace hseam::app
