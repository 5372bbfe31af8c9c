#include "app/instruments/stretch_tool.h"

#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kGrab = 60;  // px of the screen: how far from the edge a press may be

}  // namespace

StretchTool::StretchTool(std::function<std::shared_ptr<const matte::Unrolled>()> outline, std::function<void(int, int)> marked,
                         std::function<QString()> words)
    : outline_(std::move(outline)), marked_(std::move(marked)), words_(std::move(words)) {}

std::optional<int> StretchTool::nearest(const QPointF& at, std::optional<int> onOutlineOf) const {
  const auto outline = outline_();
  if (!outline) return std::nullopt;
  std::optional<int> best;
  double least = onOutlineOf ? INFINITY : kGrab / widgetScale_;
  for (std::size_t i = 0; i < outline->places.size(); ++i) {
    const auto& p = outline->places[i];
    if (onOutlineOf && p.outline != outline->places[std::size_t(*onOutlineOf)].outline) continue;
    const double d = std::hypot(p.at.x - at.x(), p.at.y - at.y());
    if (d < least) least = d, best = int(i);
  }
  return best;
}

void StretchTool::press(const Touch& touch) {
  from_ = to_ = nearest(touch.at, std::nullopt);
}

void StretchTool::move(const Touch& touch) {
  if (from_) to_ = nearest(touch.at, from_);
}

// From one end to the other, the shorter way round the outline.
std::optional<StretchTool::Run> StretchTool::run() const {
  const auto outline = outline_();
  if (!from_ || !to_ || !outline || std::max(*from_, *to_) >= int(outline->places.size())) return std::nullopt;
  const auto& all = outline->places;
  const int which = all[std::size_t(*from_)].outline;
  int first = *from_, end = *from_;
  while (first > 0 && all[std::size_t(first - 1)].outline == which) --first;
  while (end < int(all.size()) && all[std::size_t(end)].outline == which) ++end;
  const int whole = end - first, low = std::min(*from_, *to_), span = std::abs(*to_ - *from_);
  return span <= whole / 2 ? Run{low, span + 1} : Run{low + span, whole - span + 1};
}

void StretchTool::release(const Touch& touch) {
  move(touch);
  if (const auto r = run()) marked_(r->first, r->count);
  from_.reset();
  to_.reset();
}

void StretchTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::hypot(toWidget.m11(), toWidget.m12());
  const auto r = run();
  if (!r) return;
  drawMark(painter, toWidget, matte::markedFrom(*outline_(), r->first, r->count), true);
}

void drawMark(QPainter& painter, const QTransform& toWidget, const matte::MarkedStretch& mark, bool inHand) {
  QPolygonF line;
  for (const base::Point& p : mark.along) line << toWidget.map(QPointF(p.x, p.y));
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(QColor(0, 0, 0, inHand ? 190 : 120), inHand ? 6 : 4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  painter.drawPolyline(line);
  painter.setPen(
      QPen(inHand ? theme::colours().blue : theme::colours().quiet, inHand ? 3 : 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  painter.drawPolyline(line);
}

}  // namespace hseam::app
