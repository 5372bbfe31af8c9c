#include "app/ribbon/seam_ribbon.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr int kHeight = 140, kMap = 104, kReach = 24, kStripTop = 8, kTraceHeight = 54;
constexpr float kSoftTop = 16, kHaloTop = 12;  // of the scales, px and CIEDE2000
constexpr float kHaloTolerance = 3;            // a rim that is seen
constexpr int kStep = 40;                      // px of arc for a key

QColor inkOf(matte::EdgeKind kind) {
  return kind == matte::EdgeKind::solid ? theme::colours().quiet : theme::colours().blue;
}
QString wordOf(matte::EdgeKind kind) {
  constexpr const char* kWords[] = {QT_TR_NOOP("solid"), QT_TR_NOOP("soft"), QT_TR_NOOP("hair")};
  return QObject::tr(kWords[std::size_t(kind)]);
}

}  // namespace

SeamRibbon::SeamRibbon(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setFixedHeight(kHeight);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Seam ribbon"));
  setAccessibleDescription(
      tr("The outline of the cut, unrolled. Left and right move along, Return goes to the place on the canvas, "
         "up and down change the reading. While the edge is marked, M sets one end of a mark and then the other."));
  setToolTip(
      tr("The whole edge, unrolled: outside above, inside below. A click goes to the place; drag or wheel to move along; "
         "click on the reading's name for the other one. While the mask is painted, dragging in the strip paints there"));
}

QRect SeamRibbon::stripArea() const {
  return {kMap + 12, kStripTop, width() - kMap - 24, 2 * kReach + 1};
}
QRect SeamRibbon::traceArea() const {
  return {kMap + 12, kStripTop + 2 * kReach + 14, width() - kMap - 24, kTraceHeight};
}
QRect SeamRibbon::kindArea() const {
  return {traceArea().left(), traceArea().top() - 11, traceArea().width(), 12};
}
int SeamRibbon::columns() const {
  return std::max(1, stripArea().width());
}

void SeamRibbon::look(const std::array<double, 3>& ground) {
  const scene::Layer* l = scene::findLayer(desk_.document().shown(), desk_.document().active());
  const auto* p = l ? l->picture() : nullptr;
  const bool cut = p && l->mask.acts() && l->mask.coverage.format() == image::PixelFormat::grey8;
  const image::TiledImage mask = cut ? l->mask.coverage : image::TiledImage();
  const image::TiledImage colours = cut ? p->shown() : image::TiledImage();
  if (mask.stamp() == mask_.stamp() && colours.stamp() == colours_.stamp() && ground == ground_) return;
  const bool other = !cut || source_.stamp() != p->source.stamp();
  mask_ = mask;
  colours_ = colours;
  source_ = cut ? p->source : image::TiledImage();
  ground_ = ground;
  if (other) {
    outline_.reset();
    shown_ = {};
    first_ = 0;
  }
  ask();
  update();
}

// The outline is laid anew only when the mask is another; the strip of what is seen always. Newer requests replace older ones.
void SeamRibbon::ask() {
  if (mask_.isNull() || !isVisible()) return;
  awaited_ = true;
  const auto known = outlineOf_ == mask_.stamp() ? outline_ : nullptr;
  outlineOf_ = mask_.stamp();
  desk_.aside().ask<Laid>(
      QStringLiteral("ribbon"),
      [known, mask = mask_, colours = colours_, source = source_, ground = ground_, first = first_, count = columns()]() -> Laid {
        Laid laid;
        laid.outline = known;
        if (!known) {
          auto made = matte::unrolled(mask);
          if (!made.ok()) return laid;
          laid.outline = std::make_shared<const matte::Unrolled>(std::move(made).value());
        }
        const int whole = int(laid.outline->places.size());
        const int from = std::clamp(first, 0, std::max(0, whole - 1)), n = std::min(count, whole - from);
        laid.shown.first = from;
        laid.shown.whole = whole;
        if (n <= 0) return laid;
        const auto strip = matte::edgeStrip(*laid.outline, from, n, kReach, mask, colours, ground);
        auto readings = matte::edgeReadings(*laid.outline, from, n, mask, colours, source);
        if (!strip.ok() || !readings.ok()) return laid;
        laid.shown.strip = QImage(strip->samples().data(), n, strip->height(), n * 3, QImage::Format_RGB888).copy();
        laid.shown.readings = std::move(readings).value();
        return laid;
      },
      [this](const Laid& laid) { take(laid); });
}

void SeamRibbon::take(const Laid& laid) {
  awaited_ = false;
  outline_ = laid.outline;
  shown_ = laid.shown;
  first_ = shown_.first;
  update();
}

void SeamRibbon::moveTo(int first) {
  const int last = std::max(0, places() - columns());
  first = std::clamp(first, 0, last);
  if (first == first_) return;
  first_ = first;
  ask();
}

std::optional<QPointF> SeamRibbon::marked() const {
  if (!hover_ || !outline_ || *hover_ >= places()) return std::nullopt;
  const base::Point p = outline_->places[std::size_t(*hover_)].at;
  return QPointF(p.x, p.y);
}

void SeamRibbon::setMark(const std::optional<matte::MarkedStretch>& mark) {
  if (mark == mark_) return;
  mark_ = mark;
  update();
}

void SeamRibbon::setMarking(bool on) {
  marking_ = on;
  markFrom_.reset();
}

void SeamRibbon::setBrush(Instrument* brush) {
  if (brush == brush_) return;
  if (brush_ && painting_) brush_->cancel();
  brush_ = brush;
  painting_ = false;
}

std::optional<int> SeamRibbon::placeAt(int x) const {
  const int i = x - stripArea().left();
  return i >= 0 && i < shown_.strip.width() ? std::optional(shown_.first + i) : std::nullopt;
}

std::optional<QPointF> SeamRibbon::inLayer(const QPoint& at) const {
  const auto place = placeAt(std::clamp(at.x(), stripArea().left(), stripArea().left() + std::max(0, shown_.strip.width() - 1)));
  if (!place || !outline_ || *place >= places()) return std::nullopt;
  const auto& p = outline_->places[std::size_t(*place)];
  const double out = kReach - std::clamp(at.y() - stripArea().top(), 0, 2 * kReach);
  return QPointF(p.at.x + p.outward.x * out, p.at.y + p.outward.y * out);
}

// Both ends on one outline; a click takes the whole run of one kind.
void SeamRibbon::endMark(int from, int to) {
  const auto kindOf = [&](int place) { return shown_.readings[std::size_t(place - shown_.first)].kind; };
  const int last = shown_.first + int(shown_.readings.size()) - 1;
  if (!outline_ || last < shown_.first) return;
  from = std::clamp(from, shown_.first, last);
  to = std::clamp(to, shown_.first, last);
  if (from > to) std::swap(from, to);
  constexpr int kClick = 3;
  if (to - from < kClick) {
    while (from > shown_.first && kindOf(from - 1) == kindOf(to)) --from;
    while (to < last && kindOf(to + 1) == kindOf(to)) ++to;
  }
  while (to > from && outline_->places[std::size_t(to)].outline != outline_->places[std::size_t(from)].outline) --to;
  emit stretchMarked(matte::markedFrom(*outline_, from, to - from + 1));
}

QString SeamRibbon::describePlace(int at) const {
  const int i = at - shown_.first;
  if (i < 0 || i >= int(shown_.readings.size())) return {};
  const matte::EdgeReading& r = shown_.readings[std::size_t(i)];
  return tr("%1 of %2 px · %3 · softness %4 px · halo %5")
      .arg(at)
      .arg(places())
      .arg(tr("%1 (%2 % sure)").arg(wordOf(r.kind)).arg(int(std::lround(100 * double(r.confidence)))))
      .arg(double(r.softnessPx), 0, 'f', 1)
      .arg(double(r.halo), 0, 'f', 1);
}

void SeamRibbon::paintMap(QPainter& painter) const {
  const auto& all = outline_->places;
  QRectF box;
  for (const auto& p : all) {
    const QRectF one(p.at.x, p.at.y, 1, 1);
    box = box.isNull() ? one : box.united(one);
  }
  const double scale = std::min((kMap - 16) / box.width(), (kHeight - 20) / box.height());
  const QPointF origin(10 + (kMap - 16 - box.width() * scale) / 2, 10 + (kHeight - 20 - box.height() * scale) / 2);
  const auto at = [&](std::size_t i) {
    return QPointF(origin.x() + (all[i].at.x - box.x()) * scale, origin.y() + (all[i].at.y - box.y()) * scale);
  };
  const auto draw = [&](int from, int to, const QPen& pen) {
    painter.setPen(pen);
    QPainterPath path;
    int outline = -1;
    const int step = std::max(1, int(1 / scale));
    for (int i = from; i < to; i += step) {
      const auto k = std::size_t(i);
      all[k].outline == outline ? path.lineTo(at(k)) : path.moveTo(at(k));
      outline = all[k].outline;
    }
    painter.drawPath(path);
  };
  draw(0, places(), QPen(theme::colours().quiet, 1));
  draw(shown_.first, std::min(places(), shown_.first + columns()), QPen(theme::colours().text, 2.5));
  if (hover_ && *hover_ < places()) {
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::colours().blue);
    painter.drawEllipse(at(std::size_t(*hover_)), 4, 4);
    painter.setBrush(Qt::NoBrush);
  }
}

void SeamRibbon::paintTrace(QPainter& painter) const {
  const QRect area = traceArea();
  const bool soft = trace_ == Trace::softness;
  const float top = soft ? kSoftTop : kHaloTop;
  const auto y = [&](float v) { return area.bottom() - double(std::min(v, top) / top) * (area.height() - 16); };
  painter.setFont(theme::font(theme::Size::small));
  painter.setPen(theme::colours().line);
  painter.drawLine(area.left(), area.bottom(), area.right(), area.bottom());
  if (!soft) {
    painter.setPen(QPen(theme::colours().orange, 1, Qt::DashLine));
    painter.drawLine(QPointF(area.left(), y(kHaloTolerance)), QPointF(area.right(), y(kHaloTolerance)));
  }
  QPolygonF line;
  for (std::size_t i = 0; i < shown_.readings.size(); ++i) {
    const matte::EdgeReading& r = shown_.readings[i];
    line << QPointF(area.left() + double(i), y(soft ? r.softnessPx : r.halo));
  }
  painter.setPen(QPen(theme::colours().text, 1));
  painter.drawPolyline(line);
  // The kinds, by the way they are stitched: solid, dashed, dotted.
  for (std::size_t i = 0; i < shown_.readings.size();) {
    std::size_t end = i;
    while (end < shown_.readings.size() && shown_.readings[end].kind == shown_.readings[i].kind) ++end;
    const matte::EdgeKind kind = shown_.readings[i].kind;
    constexpr Qt::PenStyle kStyles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    painter.setPen(QPen(inkOf(kind), 3, kStyles[std::size_t(kind)]));
    painter.drawLine(area.left() + int(i), area.top() - 5, area.left() + int(end) - 2, area.top() - 5);
    i = end;
  }
  painter.setPen(theme::colours().blue);
  painter.drawText(area, Qt::AlignLeft | Qt::AlignTop,
                   soft ? tr("edge softness, px (scale 0 to 16)") : tr("halo, colour difference (scale 0 to 12; seen above 3)"));
  const QString words = hover_ ? describePlace(*hover_) : QString();
  painter.setPen(theme::colours().text);
  painter.drawText(area, Qt::AlignRight | Qt::AlignTop, words);
}

void SeamRibbon::paintMark(QPainter& painter) const {
  std::vector<bool> on(outline_->places.size(), false);
  if (mark_) on = matte::placesOn(*outline_, *mark_);
  if (markFrom_ && hover_) {
    for (int i = std::min(*markFrom_, *hover_); i <= std::max(*markFrom_, *hover_) && i < int(on.size()); ++i)
      on[std::size_t(i)] = true;
  }
  const QRect strip = stripArea(), kinds = kindArea();
  painter.setPen(Qt::NoPen);
  QColor veil = theme::colours().blue;
  veil.setAlpha(70);
  for (int i = 0; i < shown_.strip.width(); ++i) {
    const auto k = std::size_t(shown_.first + i);
    if (k >= on.size() || !on[k]) continue;
    painter.fillRect(strip.left() + i, kinds.top(), 1, kinds.height(), theme::colours().blue);
    painter.fillRect(strip.left() + i, strip.top() - 3, 1, 3, theme::colours().blue);
    painter.fillRect(strip.left() + i, strip.bottom() + 1, 1, 3, theme::colours().blue);
  }
}

void SeamRibbon::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme::colours().base);
  painter.setRenderHint(QPainter::Antialiasing);
  if (mask_.isNull() || !outline_ || outline_->places.empty()) {
    painter.setPen(theme::colours().quiet);
    painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap,
                     mask_.isNull() ? tr("Once the layer has a mask, its whole edge is unrolled here")
                                    : (awaited_ ? tr("Unrolling the edge…") : tr("The mask has no edge")));
    return;
  }
  paintMap(painter);
  const QRect strip = stripArea();
  painter.fillRect(strip, theme::colours().sunk);
  painter.drawImage(strip.topLeft(), shown_.strip);
  paintMark(painter);
  paintTrace(painter);
  if (hover_) {
    const int x = strip.left() + *hover_ - shown_.first;
    painter.setPen(QPen(theme::colours().blue, 1));
    painter.drawLine(x, strip.top(), x, traceArea().bottom());
  }
  if (hasFocus()) {
    painter.setPen(QPen(theme::colours().blue, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void SeamRibbon::resizeEvent(QResizeEvent*) {
  ask();
}

void SeamRibbon::showEvent(QShowEvent*) {
  ask();  // what changed meanwhile was not worked out
}

void SeamRibbon::mousePressEvent(QMouseEvent* event) {
  press_ = event->pos();
  pressFirst_ = first_;
  dragged_ = false;
  if (marking_ && event->button() == Qt::LeftButton && kindArea().adjusted(0, -2, 0, 2).contains(event->pos())) {
    markFrom_ = placeAt(event->pos().x());
  }
  paintsWith_ = brush_ && !markFrom_ && stripArea().contains(event->pos()) ? event->button() : Qt::NoButton;
}

void SeamRibbon::mouseMoveEvent(QMouseEvent* event) {
  hover_ = placeAt(event->pos().x());
  // A click goes to the place; painting begins when the pointer moves.
  const bool moved = press_ && (event->pos() - *press_).manhattanLength() > 3;
  if (paintsWith_ != Qt::NoButton && !painting_ && moved) {
    if (const auto at = inLayer(*press_)) {
      painting_ = true;
      brush_->press({*at, paintsWith_, event->modifiers(), 1});
    }
  }
  if (painting_) {
    if (const auto at = inLayer(event->pos())) brush_->move({*at, Qt::NoButton, event->modifiers(), 1});
  } else if (moved) {
    dragged_ = true;
    if (!markFrom_) moveTo(pressFirst_ - (event->pos().x() - press_->x()));
  }
  update();
  emit markMoved();
}

void SeamRibbon::mouseReleaseEvent(QMouseEvent* event) {
  if (painting_) {
    painting_ = false;
    if (const auto at = inLayer(event->pos())) brush_->release({*at, event->button(), event->modifiers(), 1});
  } else if (markFrom_) {
    endMark(*markFrom_, hover_.value_or(*markFrom_));
    markFrom_.reset();
    update();
  } else if (press_ && !dragged_) {
    if (QRect(traceArea().topLeft(), QSize(260, 14)).contains(event->pos())) {
      trace_ = trace_ == Trace::softness ? Trace::halo : Trace::softness;
      update();
    } else if (const auto at = marked()) {
      emit goTo(*at);
    }
  }
  press_.reset();
  paintsWith_ = Qt::NoButton;
}

void SeamRibbon::leaveEvent(QEvent*) {
  hover_.reset();
  update();
  emit markMoved();
}

void SeamRibbon::wheelEvent(QWheelEvent* event) {
  const QPoint d = event->angleDelta();
  moveTo(first_ - (d.x() != 0 ? d.x() : d.y()));
  event->accept();
}

void SeamRibbon::keyPressEvent(QKeyEvent* event) {
  const int at = hover_.value_or(first_);
  switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right: {
      const int to = std::clamp(at + (event->key() == Qt::Key_Left ? -kStep : kStep), 0, std::max(0, places() - 1));
      hover_ = to;
      if (to < first_ || to >= first_ + columns()) moveTo(to - columns() / 2);
      emit markMoved();
      break;
    }
    case Qt::Key_Up:
    case Qt::Key_Down:
      trace_ = trace_ == Trace::softness ? Trace::halo : Trace::softness;
      break;
    case Qt::Key_M:  // one end of a mark, then the other
      if (!marking_) break;
      if (markFrom_) {
        endMark(*markFrom_, at);
        markFrom_.reset();
      } else {
        hover_ = markFrom_ = at;
      }
      break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (const auto place = marked()) emit goTo(*place);
      break;
    default:
      QWidget::keyPressEvent(event);
      return;
  }
  update();
}

}  // namespace hseam::app
