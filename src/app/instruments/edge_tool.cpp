#include "app/instruments/edge_tool.h"

#include <QObject>
#include <cmath>

#include "app/instruments/outline_tool.h"

namespace hseam::app {

EdgeTool::EdgeTool(Find find, std::function<void(const QPolygonF&)> done, std::function<void()> redraw)
    : find_(std::move(find)), done_(std::move(done)), redraw_(std::move(redraw)) {}

QString EdgeTool::doing() const {
  return pins_.empty() ? QObject::tr("click on the subject's edge, then follow it: the line keeps to the edge")
                       : QObject::tr("click where the line begins to stray; right button steps back, the first pin closes");
}

bool EdgeTool::closesOn(const QPointF& at) const {
  const QPointF d = (at - line_.first()) * widgetScale_;
  return pins_.size() >= 2 && std::hypot(d.x(), d.y()) < 10;
}

QPolygonF EdgeTool::wayTo(const QPointF& at) const {
  QPolygonF way;
  if (!ways_) return way << line_.last() << at;
  for (const base::Point& p : ways_->to({at.x(), at.y()})) way << QPointF(p.x, p.y);
  return way;
}

void EdgeTool::findFromLastPin() {
  ways_.reset();
  const int mine = ++asked_;
  // A picture that is seen small is followed on a smaller level: what cannot be seen leads the line astray.
  const int level = std::max(0, int(std::floor(std::log2(1 / std::max(widgetScale_, 1e-3)))));
  find_(line_.last(), level, [this, mine](const select::EdgeWays& found) {
    if (mine != asked_) return;
    ways_ = found;
    redraw_();
  });
}

void EdgeTool::press(const Touch& touch) {
  at_ = touch.at;
  if (touch.button == Qt::RightButton) {
    if (pins_.size() < 2) {
      cancel();
      return;
    }
    pins_.pop_back();
    line_.resize(pins_.back() + 1);
    findFromLastPin();
    return;
  }
  if (!pins_.empty() && closesOn(touch.at)) {
    finish();
    return;
  }
  if (pins_.empty()) {
    line_ << touch.at;
  } else {
    line_ << wayTo(touch.at).mid(1);
  }
  pins_.push_back(line_.size() - 1);
  findFromLastPin();
}

bool EdgeTool::doubleClick(const Touch&) {
  if (pins_.size() < 2) return false;
  finish();
  return true;
}

void EdgeTool::finish() {
  const QPolygonF outline = line_ + wayTo(line_.first()).mid(1);
  cancel();
  const QRectF box = outline.boundingRect();
  if (box.width() >= 1 && box.height() >= 1) done_(outline);
}

void EdgeTool::cancel() {
  line_.clear();
  pins_.clear();
  ways_.reset();
  ++asked_;
}

void EdgeTool::paintOver(QPainter& painter, const QTransform& toWidget) {
  widgetScale_ = std::abs(toWidget.m22());
  if (pins_.empty()) return;
  drawStitched(painter, toWidget.map(line_ + wayTo(at_).mid(1)), false);
  painter.setPen(QPen(Qt::black, 1));
  painter.setBrush(Qt::white);
  for (const qsizetype i : pins_) painter.drawRect(QRectF(toWidget.map(line_[i]) - QPointF(3, 3), QSizeF(6, 6)));
}

}  // namespace hseam::app
