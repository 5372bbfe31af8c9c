#include "app/instruments/set_in_place.h"

#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kGripReachPx = 12;  // of a grip, on the screen
constexpr double kStemPx = 30;       // how far the turning grip stands off, on the screen

QPointF qt(const base::Point& p) {
  return {p.x, p.y};
}
double distance(const base::Point& a, const QPointF& b) {
  return std::hypot(a.x - b.x(), a.y - b.y());
}

}  // namespace

const scene::PictureContent* SetInPlace::picture() const {
  const scene::Layer* l = scene::findLayer(session_.shown(), session_.active());
  return l ? l->picture() : nullptr;
}

std::optional<SetInPlace::Frame> SetInPlace::frame() const {
  const auto* p = picture();
  if (!p) return std::nullopt;
  const base::Size s = p->source.size();
  const base::Affine m = p->placement.toScene(s);
  const double w = s.width, h = s.height;
  Frame f{{m.map({0, 0}), m.map({w, 0}), m.map({w, h}), m.map({0, h})}, m.map({w / 2, h / 2}), {}};
  const base::Point top = m.map({w / 2, p->placement.flipY ? h : 0});
  const double up = std::hypot(top.x - f.centre.x, top.y - f.centre.y), off = kStemPx / widgetScale_;
  f.stem = {top.x + (top.x - f.centre.x) / up * off, top.y + (top.y - f.centre.y) / up * off};
  return f;
}

void SetInPlace::press(const Touch& touch) {
  const auto f = frame();
  grip_ = Grip::none;
  if (!f || touch.button != Qt::LeftButton) return;
  start_ = picture()->placement;
  from_ = touch.at;
  const double reach = kGripReachPx / widgetScale_;
  for (const base::Point& c : f->corners) {
    if (distance(c, touch.at) < reach) grip_ = Grip::corner;
  }
  if (distance(f->stem, touch.at) < reach) grip_ = Grip::stem;
  if (grip_ != Grip::none) return;
  QPolygonF outline;
  for (const base::Point& c : f->corners) outline << qt(c);
  if (outline.containsPoint(touch.at, Qt::WindingFill)) grip_ = Grip::inside;
}

void SetInPlace::move(const Touch& touch) {
  const auto* p = picture();
  if (grip_ == Grip::none || !p) return;
  const base::Size s = p->source.size();
  scene::Placement now = start_;
  const QPointF by = touch.at - from_;
  const base::Point centre{start_.x + start_.scale * s.width / 2, start_.y + start_.scale * s.height / 2};
  if (grip_ == Grip::inside) {
    // At scale 1 a picture lands on whole pixels, so that it stays as sharp as it came.
    const bool whole = start_.scale == 1;
    now.x = whole ? std::round(start_.x + by.x()) : start_.x + by.x();
    now.y = whole ? std::round(start_.y + by.y()) : start_.y + by.y();
    catchOnGuides(now, s);
    now = rule_(now);
  } else if (grip_ == Grip::corner) {
    const double before = distance(centre, from_), after = distance(centre, touch.at);
    now.scale = std::clamp(start_.scale * after / std::max(1.0, before), 0.005, 50.0);
    now.x = centre.x - now.scale * s.width / 2;
    now.y = centre.y - now.scale * s.height / 2;
  } else {
    const auto angle = [&](const QPointF& q) { return std::atan2(q.y() - centre.y, q.x() - centre.x) * 180 / M_PI; };
    now.rotationDeg = start_.rotationDeg + angle(touch.at) - angle(from_);
    if (touch.modifiers & Qt::ShiftModifier) now.rotationDeg = std::round(now.rotationDeg / 15) * 15;
    now.rotationDeg = std::remainder(now.rotationDeg, 360);
  }
  session_.draft(placed(now));
}

// A side or the middle that comes near a guide lies on it.
void SetInPlace::catchOnGuides(scene::Placement& now, base::Size size) const {
  const base::Rect box = base::boundsOf(now.toScene(size), base::Rect::of(size));
  for (const bool vertical : {true, false}) {
    const double low = vertical ? box.x : box.y, span = vertical ? box.width : box.height;
    double nearest = kGripReachPx / widgetScale_, by = 0;
    for (const scene::Guide& g : session_.scene().guides) {
      if (g.vertical != vertical || g.meets) continue;
      for (const double at : {low, low + span / 2, low + span}) {
        if (std::abs(g.at - at) >= nearest) continue;
        nearest = std::abs(g.at - at);
        by = g.at - at;
      }
    }
    (vertical ? now.x : now.y) += by;
  }
}

// The active picture's new placement; if it was only moved, the other pictures in hand move along.
scene::Edit SetInPlace::placed(const scene::Placement& now) const {
  const scene::LayerId active = session_.active();
  const auto held = session_.inHand();
  const scene::Placement& before = session_.activeLayer()->picture()->placement;
  if (held.size() < 2 || now.scale != before.scale || now.rotationDeg != before.rotationDeg)
    return scene::SetPlacement{active, now};
  scene::Several all{"move " + std::to_string(held.size()) + " layers", {}};
  for (const scene::LayerId id : held) {
    const scene::Layer* l = scene::findLayer(session_.scene(), id);
    if (!l || !l->picture()) continue;
    scene::Placement p = l->picture()->placement;
    p.x += now.x - before.x;
    p.y += now.y - before.y;
    all.edits.push_back({scene::SetPlacement{id, p}});
  }
  return all;
}

void SetInPlace::release(const Touch&) {
  const auto* p = picture();
  const bool moved = grip_ != Grip::none && p && !(p->placement == start_);
  grip_ = Grip::none;
  if (moved) {
    session_.apply(placed(p->placement));
  } else {
    session_.draft(std::nullopt);
  }
}

void SetInPlace::cancel() {
  grip_ = Grip::none;
  session_.draft(std::nullopt);
}

bool SetInPlace::nudge(double dx, double dy) {
  const auto* p = picture();
  if (!p) return false;
  scene::Placement now = p->placement;
  now.x += dx;
  now.y += dy;
  return session_.apply(placed(rule_(now)));
}

void SetInPlace::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::abs(toWidget.m22());
  const auto f = frame();
  if (!f) return;
  painter.setPen(QPen(theme::colours().line, 1));
  painter.setBrush(theme::colours().blue);
  for (const base::Point& c : f->corners) painter.drawRect(QRectF(toWidget.map(qt(c)) - QPointF(5, 5), QSizeF(10, 10)));
  const QPointF stem = toWidget.map(qt(f->stem));
  painter.drawEllipse(stem, 6, 6);
}

QString SetInPlace::doing() const {
  const scene::Layer* l = session_.activeLayer();
  if (!l || !l->picture()) return QObject::tr("choose a picture in the sheet to set it in place");
  return QObject::tr("places %1: drag moves, a corner scales, the round grip turns (Shift: by 15°), arrows nudge")
      .arg(QString::fromStdString(l->name));
}

}  // namespace hseam::app
