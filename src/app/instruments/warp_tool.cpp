#include "app/instruments/warp_tool.h"

#include <cmath>

#include "app/theme/theme.h"
#include "core/render/warped.h"
#include "core/scene/set_words.h"

namespace hseam::app {
namespace {

constexpr double kNearTack = 14;  // px of the widget
constexpr int kFirstCells = 3;

}  // namespace

std::optional<WarpTool::Sheet> WarpTool::sheetOf(const scene::Layer* l) const {
  if (!l) return std::nullopt;
  if (const auto* p = l->picture()) return Sheet{p->warp.get(), p->source.size(), p->placement.toScene(p->source.size())};
  const auto* f = l->fill();
  if (!f || !f->lettering) return std::nullopt;
  if (f->bend) {
    box_ = f->bend->box;
  } else if (boxedWords_ != f->lettering) {
    const auto box = scene::boxOf(*f->lettering);
    if (!box.ok()) return std::nullopt;
    box_ = *box;
  }
  boxedWords_ = f->bend ? nullptr : f->lettering;
  return Sheet{
      f->bend ? &f->bend->warp : nullptr, {box_.width, box_.height}, base::Affine{1, 0, 0, 1, double(box_.x), double(box_.y)}};
}

std::optional<WarpTool::Sheet> WarpTool::sheet() const {
  return sheetOf(scene::findLayer(session_.shown(), session_.active()));
}

std::optional<const scene::Warp*> WarpTool::kept() const {
  const auto s = sheetOf(session_.activeLayer());
  return s ? std::optional(s->warp) : std::nullopt;
}

scene::Warp WarpTool::warpFor(Way w) const {
  const auto s = sheet();
  scene::Warp warp = s && s->warp ? *s->warp : scene::Warp{};
  if (!s) return warp;
  const double width = s->size.width, height = s->size.height;
  if (w == Way::corners && warp.corners.empty()) warp.corners = {{0, 0}, {width, 0}, {width, height}, {0, height}};
  if (w == Way::grid && warp.grid.empty()) warp = scene::withGrid(warp, s->size, kFirstCells, kFirstCells);
  return warp;
}

std::vector<base::Point*> WarpTool::handles(scene::Warp& warp, Way way) {
  std::vector<base::Point*> all;
  if (way == Way::corners) {
    for (base::Point& p : warp.corners) all.push_back(&p);
  } else if (way == Way::grid) {
    for (base::Point& p : warp.grid) all.push_back(&p);
  } else {
    for (scene::Tack& t : warp.tacks) all.push_back(&t.to);
  }
  return all;
}

// What comes after the handle's own stage, then the placement.
base::Point WarpTool::toScene(const scene::Warp& warp, Way w, base::Point handle) const {
  const auto s = sheet();
  scene::Warp rest = warp;
  rest.tacks.clear();
  if (w != Way::tacks) rest.grid.clear();
  if (w == Way::corners) rest.corners.clear();
  return s->toScene.map(scene::mapped(rest, s->size, handle));
}

// By Newton's steps with differences: the later stages have no inverse written down.
base::Point WarpTool::fromScene(const scene::Warp& warp, Way w, base::Point start, base::Point wanted) const {
  base::Point q = start;
  for (int i = 0; i < 6; ++i) {
    const base::Point at = toScene(warp, w, q), dx = toScene(warp, w, {q.x + 1, q.y}), dy = toScene(warp, w, {q.x, q.y + 1});
    const double a = dx.x - at.x, b = dy.x - at.x, c = dx.y - at.y, d = dy.y - at.y, det = a * d - b * c;
    if (std::abs(det) < 1e-12) break;
    const double ex = wanted.x - at.x, ey = wanted.y - at.y;
    q.x += (d * ex - b * ey) / det;
    q.y += (a * ey - c * ex) / det;
  }
  return q;
}

void WarpTool::change(const scene::Warp& warp, bool keep) {
  const scene::Layer* l = session_.activeLayer();
  if (!l) return;
  scene::Edit edit;
  if (const auto* f = l->fill(); f && f->lettering) {
    const auto s = sheetOf(l);
    if (!s) return;
    const scene::Bend bend{{int(s->toScene.e), int(s->toScene.f), s->size.width, s->size.height}, warp};
    auto set =
        scene::setWords(*l, *f->lettering, std::make_shared<const scene::Bend>(bend), session_.scene().canvas, session_.memory());
    if (!set.ok()) {
      emit messages_.refused(QString::fromStdString(set.error().text()));
      return;
    }
    edit = std::move(set).value().edit;
  } else {
    edit = scene::SetWarp{l->id, warp.neutral() ? nullptr : std::make_shared<const scene::Warp>(warp)};
  }
  if (keep) {
    session_.apply(edit);
  } else {
    session_.draft(edit);
  }
}

// The corners beside it are ends of the edges that are to run to where a fan of guides meets.
base::Point WarpTool::caught(const scene::Warp& warp, base::Point wanted) const {
  if (way != Way::corners || grip_ < 0) return wanted;
  double nearest = kNearTack / 2 / widgetScale_;
  base::Point best = wanted;
  for (const scene::Guide& g : session_.scene().guides) {
    if (!g.meets) continue;
    for (const int step : {1, 3}) {
      const base::Point end = toScene(warp, way, warp.corners[std::size_t((grip_ + step) % 4)]);
      const double dx = g.meets->x - end.x, dy = g.meets->y - end.y, length = std::hypot(dx, dy);
      if (length < 1) continue;
      const double t = ((wanted.x - end.x) * dx + (wanted.y - end.y) * dy) / (length * length);
      const base::Point on{end.x + t * dx, end.y + t * dy};
      const double away = std::hypot(on.x - wanted.x, on.y - wanted.y);
      if (away < nearest) nearest = away, best = on;
    }
  }
  return best;
}

void WarpTool::press(const Touch& touch) {
  grip_ = -1;
  const auto sheet = this->sheet();
  if (!sheet) return;
  start_ = warpFor(way);
  auto all = handles(start_, way);
  double nearest = kNearTack / widgetScale_;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const base::Point at = toScene(start_, way, *all[i]);
    if (const double d = std::hypot(at.x - touch.at.x(), at.y - touch.at.y()); d < nearest) nearest = d, grip_ = int(i);
  }
  const base::Size size = sheet->size;
  const auto back = sheet->toScene.inverse();
  if (!back) return;
  const auto source = [&] {
    return start_.neutral() ? std::optional(back->map({touch.at.x(), touch.at.y()}))
                            : render::InverseWarp(start_, size).at(back->map({touch.at.x(), touch.at.y()}));
  };
  if (way == Way::grid && splits) {
    splits = false;
    if (const auto at = source())
      change(scene::withSplit(scene::withSplit(start_, size, at->x / size.width, true), size, at->y / size.height, false), true);
    grip_ = -1;
    return;
  }
  if (way == Way::tacks) {
    if (touch.button == Qt::RightButton) {
      if (grip_ >= 0) {
        start_.tacks.erase(start_.tacks.begin() + grip_);
        change(start_, true);
      }
      grip_ = -1;
    } else if (grip_ < 0) {
      // A new tack holds what lies there where it is.
      const auto at = source();
      if (!at) return;
      scene::Warp first;
      first.tacks = start_.tacks;
      start_.tacks.push_back({*at, scene::mapped(first, size, *at)});
      grip_ = int(start_.tacks.size()) - 1;
    }
  }
  last_ = grip_;
}

void WarpTool::move(const Touch& touch) {
  if (grip_ < 0 || !sheet()) return;
  scene::Warp next = start_;
  base::Point* handle = handles(next, way)[std::size_t(grip_)];
  *handle = fromScene(start_, way, *handle, caught(start_, {touch.at.x(), touch.at.y()}));
  change(next, false);
}

void WarpTool::release(const Touch& touch) {
  if (grip_ < 0 || !sheet()) return;
  move(touch);
  const auto now = sheet();
  const scene::Warp made = now->warp ? *now->warp : scene::Warp{};
  grip_ = -1;
  change(made, true);
}

void WarpTool::cancel() {
  if (grip_ >= 0) session_.draft(std::nullopt);
  grip_ = -1;
  splits = false;
}

bool WarpTool::nudge(double dx, double dy) {
  if (!sheet()) return false;
  scene::Warp next = warpFor(way);
  const auto all = handles(next, way);
  if (last_ < 0 || last_ >= int(all.size())) return false;
  base::Point* handle = all[std::size_t(last_)];
  const base::Point at = toScene(next, way, *handle);
  *handle = fromScene(next, way, *handle, {at.x + dx, at.y + dy});
  change(next, true);
  return true;
}

void WarpTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::sqrt(std::abs(toWidget.determinant()));
  const auto sheet = this->sheet();
  if (!sheet) return;
  scene::Warp warp = warpFor(way);
  painter.setRenderHint(QPainter::Antialiasing);
  const base::Size size = sheet->size;
  const base::Affine place = sheet->toScene;
  // Lines of the picture as they run now.
  const auto run = [&](bool column, double at) {
    QPolygonF line;
    for (int i = 0; i <= 40; ++i) {
      const double t = i / 40.0;
      const base::Point q = place.map(scene::mapped(
          warp, size, column ? base::Point{at * size.width, t * size.height} : base::Point{t * size.width, at * size.height}));
      line << toWidget.map(QPointF(q.x, q.y));
    }
    painter.setPen(QPen(QColor(0, 0, 0, 130), 2.5));
    painter.drawPolyline(line);
    painter.setPen(QPen(theme::colours().blue, 1));
    painter.drawPolyline(line);
  };
  const std::vector<double> ends{0, 1};
  for (const double c : way == Way::grid ? warp.columns : ends) run(true, c);
  for (const double r : way == Way::grid ? warp.rows : ends) run(false, r);
  const auto all = handles(warp, way);
  for (std::size_t i = 0; i < all.size(); ++i) {
    const base::Point at = toScene(warp, way, *all[i]);
    const QPointF q = toWidget.map(QPointF(at.x, at.y));
    painter.setBrush(int(i) == last_ ? theme::colours().text : theme::colours().blue);
    if (way == Way::tacks) {
      // A cross-stitch.
      for (const auto& [pen, width] : {std::pair(QColor(0, 0, 0, 200), 5.0), {theme::colours().blue, 2.5}}) {
        painter.setPen(QPen(pen, width, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(q + QPointF(-6, -6), q + QPointF(6, 6));
        painter.drawLine(q + QPointF(-6, 6), q + QPointF(6, -6));
      }
    } else {
      painter.setPen(QPen(theme::colours().line, 1));
      painter.drawRect(QRectF(q - QPointF(4.5, 4.5), QSizeF(9, 9)));
    }
  }
}

QString WarpTool::doing() const {
  if (way == Way::grid) return splits ? QObject::tr("click where the grid is split") : QObject::tr("drag the grid's crossings");
  if (way == Way::tacks) return QObject::tr("click to set a tack, drag it; the right button takes it out");
  return QObject::tr("drag the four corners");
}

}  // namespace hseam::app
