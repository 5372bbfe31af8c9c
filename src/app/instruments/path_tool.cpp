#include "app/instruments/path_tool.h"

#include <cmath>

#include "app/instruments/outline_tool.h"
#include "app/theme/theme.h"

namespace hseam::app {
namespace {

using base::Point;

constexpr double kReach = 8;  // px of the screen

double apart(Point a, Point b) {
  return std::hypot(a.x - b.x, a.y - b.y);
}
QPointF toQ(const base::Affine& m, Point p) {
  const Point q = m.map(p);
  return {q.x, q.y};
}
std::vector<int> nodesOf(const auto& spots, int outline) {
  std::vector<int> nodes;
  for (const auto& s : spots) {
    if (s.outline == outline) nodes.push_back(s.node);
  }
  return nodes;
}

}  // namespace

Point PathTool::inPath(const QPointF& shown) const {
  const auto back = ports_.toShown().inverse();
  return back ? back->map({shown.x(), shown.y()}) : Point{shown.x(), shown.y()};
}

std::optional<PathTool::Spot> PathTool::nodeAt(const Point& at) const {
  const path::Path p = now();
  std::optional<Spot> best;
  double least = reach_;
  for (int o = 0; o < int(p.outlines.size()); ++o) {
    const auto& nodes = p.outlines[std::size_t(o)].nodes;
    for (int n = 0; n < int(nodes.size()); ++n) {
      if (const double d = apart(nodes[std::size_t(n)].at, at); d <= least) least = d, best = Spot{o, n};
    }
  }
  return best;
}

// What lies under the pointer: handles of points in hand first, then points, then the curve.
void PathTool::find(const Point& at) {
  const path::Path p = now();
  grip_ = Grip::none;
  for (const Spot& s : inHand_) {
    if (s.outline >= int(p.outlines.size()) || s.node >= int(p.outlines[std::size_t(s.outline)].nodes.size())) continue;
    const path::Node& n = p.outlines[std::size_t(s.outline)].nodes[std::size_t(s.node)];
    for (const auto& [end, grip] : {std::pair(n.in, Grip::in), std::pair(n.out, Grip::out)}) {
      if (!(end == n.at) && apart(end, at) <= reach_) {
        spot_ = s;
        grip_ = grip;
        return;
      }
    }
  }
  if (const auto node = nodeAt(at)) {
    spot_ = *node;
    grip_ = Grip::node;
  } else if (const auto on = path::nearest(p, at); on && on->distance <= reach_) {
    spot_ = {on->outline, on->segment};
    t_ = on->t;
    grip_ = Grip::curve;
  }
}

void PathTool::place(const Point& at) {
  path::Path p = now();
  if (drawing_ < 0 || drawing_ >= int(p.outlines.size()) || p.outlines[std::size_t(drawing_)].closed) {
    path::Outline fresh;
    fresh.joins = ports_.joins();
    p.outlines.push_back(fresh);
    drawing_ = int(p.outlines.size()) - 1;
  }
  auto& o = p.outlines[std::size_t(drawing_)];
  o.nodes.push_back(path::corner(at));
  if (throughPoints) o = path::throughPoints(o);
  spot_ = {drawing_, int(o.nodes.size()) - 1};
  inHand_ = {spot_};
  grip_ = Grip::placing;
  edited_ = std::move(p);
  ports_.draft(*edited_);
}

void PathTool::press(const Touch& touch) {
  const Point at = inPath(touch.at);
  from_ = at;
  slidOn_ = false;
  if (touch.button == Qt::RightButton) {
    // The right button takes the last point back, as it does for other outlines.
    path::Path p = ports_.path();
    if (drawing_ < 0 || drawing_ >= int(p.outlines.size())) return;
    auto& nodes = p.outlines[std::size_t(drawing_)].nodes;
    if (!nodes.empty()) nodes.pop_back();
    if (nodes.empty()) {
      p.outlines.erase(p.outlines.begin() + drawing_);
      drawing_ = -1;
    }
    inHand_.clear();
    ports_.keep(p, QObject::tr("a point back"));
    return;
  }
  find(at);
  const path::Path p = now();
  const bool drawing = drawing_ >= 0 && drawing_ < int(p.outlines.size()) && !p.outlines[std::size_t(drawing_)].closed;
  if (grip_ == Grip::node && drawing && spot_ == Spot{drawing_, 0} && p.outlines[std::size_t(drawing_)].nodes.size() > 2) {
    path::Path closed = p;
    auto& o = closed.outlines[std::size_t(drawing_)];
    o.closed = true;
    if (throughPoints) o = path::throughPoints(o);
    drawing_ = -1;
    grip_ = Grip::none;
    ports_.keep(closed, QObject::tr("closed"));
    return;
  }
  if (grip_ == Grip::node) {
    if (touch.modifiers & Qt::ShiftModifier) {
      if (!inHand_.insert(spot_).second) inHand_.erase(spot_);
    } else if (!inHand_.contains(spot_)) {
      inHand_ = {spot_};
    }
  } else if (grip_ == Grip::none) {
    place(at);
  }
}

void PathTool::move(const Touch& touch) {
  if (grip_ == Grip::none) return;
  const Point at = inPath(touch.at), by{at.x - from_.x, at.y - from_.y};
  if (!edited_ && apart(at, from_) * 1.0 < reach_ / 4) return;
  path::Path p = grip_ == Grip::placing ? now() : ports_.path();
  auto& o = p.outlines[std::size_t(spot_.outline)];
  switch (grip_) {
    case Grip::placing: {
      path::Node& n = o.nodes[std::size_t(spot_.node)];
      if (touch.modifiers & Qt::ShiftModifier) {
        // The point slides on; the handle keeps its length and direction.
        const Point step{at.x - n.out.x, at.y - n.out.y};
        n = {{n.at.x + step.x, n.at.y + step.y}, {n.in.x + step.x, n.in.y + step.y}, at, n.smooth};
      } else if (!throughPoints) {
        n.out = at;
        n.in = {2 * n.at.x - at.x, 2 * n.at.y - at.y};
        n.smooth = true;
      }
      if (throughPoints) {
        n = path::corner(at);
        o = path::throughPoints(o);
      }
      break;
    }
    case Grip::node:
      for (int i = 0; i < int(p.outlines.size()); ++i) {
        const auto nodes = nodesOf(inHand_, i);
        if (!nodes.empty()) p.outlines[std::size_t(i)] = path::moved(p.outlines[std::size_t(i)], nodes, by);
      }
      break;
    case Grip::in:
    case Grip::out:
      // Ctrl breaks the pair: the other handle stays.
      if (touch.modifiers & Qt::ControlModifier) o = path::asCorner(o, spot_.node);
      o = path::withHandle(o, spot_.node, grip_ == Grip::in ? path::Handle::in : path::Handle::out, at);
      break;
    case Grip::curve:
      o = path::pulled(o, spot_.node, t_, by);
      break;
    case Grip::none:
      return;
  }
  edited_ = std::move(p);
  ports_.draft(*edited_);
}

void PathTool::release(const Touch&) {
  const QString words[] = {{},
                           QObject::tr("points moved"),
                           QObject::tr("a handle"),
                           QObject::tr("a handle"),
                           QObject::tr("curve pulled"),
                           QObject::tr("a point")};
  if (edited_) {
    const path::Path done = std::move(*edited_);
    edited_.reset();
    ports_.keep(done, words[std::size_t(grip_)]);
  }
  grip_ = Grip::none;
}

void PathTool::hover(const QPointF& at) {
  hover_ = inPath(at);
}

bool PathTool::doubleClick(const Touch& touch) {
  const Point at = inPath(touch.at);
  if (const auto node = nodeAt(at)) {
    path::Path p = ports_.path();
    auto& o = p.outlines[std::size_t(node->outline)];
    const bool smooth = o.nodes[std::size_t(node->node)].smooth;
    o = smooth ? path::asCorner(o, node->node) : path::asSmooth(o, node->node);
    inHand_ = {*node};
    ports_.keep(p, smooth ? QObject::tr("a corner") : QObject::tr("smooth"));
    return true;
  }
  path::Path p = ports_.path();
  if (const auto on = path::nearest(p, at); on && on->distance <= reach_) {
    p.outlines[std::size_t(on->outline)] = path::withNodeAt(p.outlines[std::size_t(on->outline)], on->segment, on->t);
    inHand_ = {{on->outline, on->segment + 1}};
    ports_.keep(p, QObject::tr("a point put in"));
    return true;
  }
  return false;
}

void PathTool::cancel() {
  if (edited_) ports_.draft(ports_.path());
  edited_.reset();
  grip_ = Grip::none;
  drawing_ = -1;
  inHand_.clear();
}

bool PathTool::nudge(double dx, double dy) {
  if (inHand_.empty()) return false;
  path::Path p = ports_.path();
  const Point a = inPath({0, 0}), b = inPath({dx, dy});
  for (int i = 0; i < int(p.outlines.size()); ++i) {
    const auto nodes = nodesOf(inHand_, i);
    if (!nodes.empty()) p.outlines[std::size_t(i)] = path::moved(p.outlines[std::size_t(i)], nodes, {b.x - a.x, b.y - a.y});
  }
  ports_.keep(p, QObject::tr("points nudged"));
  return true;
}

void PathTool::removeInHand() {
  path::Path p = ports_.path();
  // From the last on, so that indices stay right.
  for (auto s = inHand_.rbegin(); s != inHand_.rend(); ++s) {
    if (s->outline >= int(p.outlines.size())) continue;
    auto& o = p.outlines[std::size_t(s->outline)];
    if (s->node >= int(o.nodes.size())) continue;
    if (o.nodes.size() <= 2) {
      p.outlines.erase(p.outlines.begin() + s->outline);
    } else {
      o = path::without(o, s->node);
    }
  }
  inHand_.clear();
  ports_.keep(p, QObject::tr("points taken out"));
}

void PathTool::turnInHand(bool smooth) {
  path::Path p = ports_.path();
  for (const Spot& s : inHand_) {
    if (s.outline >= int(p.outlines.size()) || s.node >= int(p.outlines[std::size_t(s.outline)].nodes.size())) continue;
    auto& o = p.outlines[std::size_t(s.outline)];
    o = smooth ? path::asSmooth(o, s.node) : path::asCorner(o, s.node);
  }
  ports_.keep(p, smooth ? QObject::tr("smooth") : QObject::tr("corners"));
}

void PathTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  const base::Affine m = ports_.toShown();
  const double scale = std::sqrt(std::abs(m.determinant())) * std::hypot(toWidget.m11(), toWidget.m12());
  reach_ = kReach / std::max(scale, 1e-6);
  const path::Path p = now();
  painter.setRenderHint(QPainter::Antialiasing);
  const auto at = [&](Point q) { return toWidget.map(toQ(m, q)); };
  for (const path::Outline& o : p.outlines) {
    QPolygonF line;
    for (const Point& q : path::flattened(o, 0.2 / std::max(scale, 1e-6))) line << at(q);
    if (!line.isEmpty()) drawStitched(painter, line, o.closed);
  }
  // The next segment, before it is placed.
  if (drawing_ >= 0 && drawing_ < int(p.outlines.size()) && hover_ && grip_ == Grip::none) {
    path::Outline next;
    next.nodes = {p.outlines[std::size_t(drawing_)].nodes.back(), path::corner(*hover_)};
    QPolygonF line;
    for (const Point& q : path::flattened(next, 0.2 / std::max(scale, 1e-6))) line << at(q);
    painter.setPen(QPen(theme::colours().blue, 1, Qt::DotLine));
    painter.drawPolyline(line);
  }
  for (int i = 0; i < int(p.outlines.size()); ++i) {
    const auto& nodes = p.outlines[std::size_t(i)].nodes;
    for (int k = 0; k < int(nodes.size()); ++k) {
      const path::Node& n = nodes[std::size_t(k)];
      const bool held = inHand_.contains({i, k});
      const QPointF c = at(n.at);
      if (held) {
        painter.setPen(QPen(theme::colours().blue, 1));
        for (const Point& end : {n.in, n.out}) {
          if (end == n.at) continue;
          painter.drawLine(c, at(end));
          painter.setBrush(theme::colours().sunk);
          painter.drawEllipse(at(end), 3.5, 3.5);
        }
      }
      painter.setPen(QPen(Qt::black, 1));
      painter.setBrush(held ? QBrush(theme::colours().blue) : QBrush(Qt::white));
      // From far off, points must not hide the line.
      const double r = held || scale > 0.5 ? 4 : 2.5;
      if (n.smooth) {
        painter.drawEllipse(c, r, r);
      } else {
        painter.drawRect(QRectF(c.x() - r + 0.5, c.y() - r + 0.5, 2 * r - 1, 2 * r - 1));
      }
    }
  }
}

}  // namespace hseam::app
