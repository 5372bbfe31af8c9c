#include "app/instruments/light_tool.h"

#include <algorithm>
#include <cmath>

#include "app/instruments/thread.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kNear = 14;  // px of the widget
constexpr double kLineStep = 3;

}  // namespace

const scene::LightContent* LightTool::light() const {
  const scene::Layer* l = scene::findLayer(session_.shown(), session_.active());
  return l ? l->light() : nullptr;
}

const scene::Layer* LightTool::caster() const {
  const auto* l = light();
  const scene::Layer* c = l ? scene::findLayer(session_.shown(), l->caster) : nullptr;
  return c && scene::casts(*c) ? c : nullptr;
}

std::optional<LightTool::Cast> LightTool::cast() const {
  const scene::Layer* c = caster();
  const auto* s = c ? std::get_if<scene::CastShadow>(&light()->kind) : nullptr;
  if (!s) return std::nullopt;
  const scene::Scene& scene = session_.shown();
  const scene::FloorCamera camera(scene::floorOf(scene), scene.canvas);
  Cast out{*s, scene::ownToScene(*c), {}, {}, 0};
  out.foot = out.toScene.map(s->foot);
  const auto at = camera.floorAt(out.foot);
  const auto meter = scene::heightAtFoot(camera, out.foot, 1);
  if (!at || !meter) return std::nullopt;
  const base::Point head = scene::headAbove(scene, *c, s->foot);
  out.heightM = std::max(1e-3, std::hypot(head.x - out.foot.x, head.y - out.foot.y) / *meter);
  const double way = out.heightM / std::tan(s->light.elevationDeg * M_PI / 180), a = s->light.azimuthDeg * M_PI / 180;
  const auto tip = camera.project({(*at)[0] - std::sin(a) * way, 0, (*at)[2] + std::cos(a) * way});
  if (!tip) return std::nullopt;
  out.tip = *tip;
  return out;
}

std::optional<scene::LightKind> LightTool::dragged(const Cast& c, Grip grip, const QPointF& to) const {
  const scene::Scene& scene = session_.shown();
  const scene::FloorCamera camera(scene::floorOf(scene), scene.canvas);
  scene::CastShadow next = c.shadow;
  if (grip == Grip::foot) {
    const auto back = c.toScene.inverse();
    if (!back) return std::nullopt;
    next.foot = back->map({to.x(), to.y()});
    return next;
  }
  const auto from = camera.floorAt(c.foot), at = camera.floorAt({to.x(), to.y()});
  if (!from || !at) return std::nullopt;  // above the horizon no shadow ends
  const double dx = (*at)[0] - (*from)[0], dz = (*at)[2] - (*from)[2], way = std::max(1e-3, std::hypot(dx, dz));
  next.light.azimuthDeg = std::atan2(-dx, dz) * 180 / M_PI;
  next.light.elevationDeg = std::clamp(std::atan2(c.heightM, way) * 180 / M_PI, 1.0, 90.0);
  return next;
}

void LightTool::change(const scene::LightKind& kind, bool keep) {
  const scene::SetLight edit{session_.active(), {light()->caster, kind}};
  if (keep) {
    session_.apply(edit);
  } else {
    session_.draft(edit);
  }
}

void LightTool::press(const Touch& touch) {
  grip_ = Grip::none;
  if (const auto c = cast()) {
    const auto near = [&](base::Point p) { return std::hypot(p.x - touch.at.x(), p.y - touch.at.y()) * widgetScale_ < kNear; };
    grip_ = near(c->tip) ? Grip::tip : (near(c->foot) ? Grip::foot : Grip::tip);
    move(touch);
  } else if (light() && std::holds_alternative<scene::ContactShadow>(light()->kind) && caster()) {
    grip_ = Grip::line;
    line_.clear();
    move(touch);
  }
}

void LightTool::move(const Touch& touch) {
  if (grip_ == Grip::line) {
    const auto back = scene::ownToScene(*caster()).inverse();
    if (!back) return;
    const base::Point at = back->map({touch.at.x(), touch.at.y()});
    if (line_.empty() || std::hypot(at.x - line_.back().x, at.y - line_.back().y) > kLineStep) line_.push_back(at);
    if (line_.size() < 2) return;
    auto next = std::get<scene::ContactShadow>(light()->kind);
    next.line = line_;
    change(next, false);
  } else if (grip_ != Grip::none) {
    const auto c = cast();
    if (const auto next = c ? dragged(*c, grip_, touch.at) : std::nullopt) change(*next, false);
  }
}

void LightTool::release(const Touch& touch) {
  move(touch);
  const bool drawn = grip_ == Grip::line && line_.size() >= 2;
  if (light() && (drawn || grip_ == Grip::tip || grip_ == Grip::foot)) change(light()->kind, true);
  grip_ = Grip::none;
}

void LightTool::cancel() {
  if (grip_ != Grip::none) session_.draft(std::nullopt);
  grip_ = Grip::none;
}

bool LightTool::nudge(double dx, double dy) {
  const auto c = cast();
  const auto next = c ? dragged(*c, Grip::tip, QPointF(c->tip.x + dx, c->tip.y + dy)) : std::nullopt;
  if (next) change(*next, true);
  return next.has_value();
}

void LightTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::sqrt(std::abs(toWidget.determinant()));
  const auto c = cast();
  if (!c) return;
  const QPointF foot = toWidget.map(QPointF(c->foot.x, c->foot.y)), tip = toWidget.map(QPointF(c->tip.x, c->tip.y));
  painter.setRenderHint(QPainter::Antialiasing);
  drawThread(painter, foot, tip);
  painter.setBrush(theme::colours().blue);
  painter.drawEllipse(tip, 6, 6);
  painter.drawRect(QRectF(foot.x() - 5, foot.y() - 5, 10, 10));
}

QString LightTool::doing() const {
  if (cast()) return QObject::tr("drag the tip of the shadow, or its foot");
  return QObject::tr("draw along the line where it touches");
}

}  // namespace hseam::app
