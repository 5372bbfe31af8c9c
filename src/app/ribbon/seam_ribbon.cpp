#include "app/ribbon/seam_ribbon.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

#include "app/ribbon/scene_strip.h"

namespace hseam::app {
namespace {

constexpr int kStep = 40;  // px of arc for a key

QString wordOf(matte::EdgeKind kind) {
  constexpr const char* kWords[] = {QT_TR_NOOP("solid"), QT_TR_NOOP("soft"), QT_TR_NOOP("hair")};
  return QObject::tr(kWords[std::size_t(kind)]);
}

}  // namespace

SeamRibbon::SeamRibbon(Session& session, Lane& aside, QWidget* parent) : QWidget(parent), session_(session), aside_(aside) {
  setFixedHeight(kHeight);
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Seam ribbon"));
  setAccessibleDescription(
      tr("The outline of the cut, unrolled. Left and right move along, Return goes to the place on the canvas, "
         "up and down change the reading, S shows it over the scene or the ground. While the edge is marked, M sets one end of a "
         "mark and then the other."));
  setToolTip(
      tr("The whole edge, unrolled: outside above, inside below. A click goes to the place; drag or wheel to move along; "
         "click on the reading's name for the next one, on the ground's for the scene. While the mask is painted, dragging in "
         "the strip paints there"));
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
  const scene::Layer* l = scene::findLayer(session_.shown(), session_.active());
  const auto* p = l ? l->picture() : nullptr;
  const bool cut = p && l->mask.acts() && l->mask.coverage.format() == image::PixelFormat::grey8;
  const image::TiledImage mask = cut ? l->mask.coverage : image::TiledImage();
  const image::TiledImage colours = cut ? p->shown() : image::TiledImage();
  const bool sameScene =
      !overScene_ || (scene_.canvas == session_.shown().canvas && scene::difference(scene_, session_.shown()).empty());
  if (mask.stamp() == mask_.stamp() && colours.stamp() == colours_.stamp() && ground == ground_ && sameScene) return;
  scene_ = overScene_ ? session_.shown() : scene::Scene{};
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
  aside_.ask<Laid>(
      QStringLiteral("ribbon"),
      [known, mask = mask_, colours = colours_, source = source_, ground = ground_, first = first_, count = columns(),
       over = overScene_, scene = scene_, layer = session_.active()]() -> Laid {
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
        const auto strip = over ? sceneStrip(*laid.outline, from, n, kReach, scene, layer)
                                : matte::edgeStrip(*laid.outline, from, n, kReach, mask, colours, ground);
        auto readings = matte::edgeReadings(*laid.outline, from, n, mask, colours, source);
        if (!strip.ok() || !readings.ok()) return laid;
        laid.shown.strip = QImage(strip->samples().data(), n, strip->height(), n * 3, QImage::Format_RGB888).copy();
        laid.shown.readings = std::move(readings).value();
        laid.shown.toneSteps = matte::toneSteps(*strip);
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
  const QString found = foundAt(at).join(QStringLiteral(", "));
  return (found.isEmpty() ? QString() : found + QStringLiteral(" · ")) +
         tr("%1 of %2 px · %3 · softness %4 px · halo %5 · step %6")
             .arg(at)
             .arg(places())
             .arg(tr("%1 (%2 % sure)").arg(wordOf(r.kind)).arg(int(std::lround(100 * double(r.confidence)))))
             .arg(double(r.softnessPx), 0, 'f', 1)
             .arg(double(r.halo), 0, 'f', 1)
             .arg(double(shown_.toneSteps[std::size_t(i)]), 0, 'f', 0);
}

void SeamRibbon::nextTrace(int by) {
  trace_ = Trace((int(trace_) + 3 + by) % 3);
  update();
}

QRect SeamRibbon::groundWordArea() const {
  return {6, kHeight - 18, kMap, 14};
}

void SeamRibbon::setOverScene(bool on) {
  if (on == overScene_) return;
  overScene_ = on;
  trace_ = on ? Trace::toneStep : Trace::softness;  // what there is to see there
  scene_ = on ? session_.shown() : scene::Scene{};
  ask();
}

void SeamRibbon::resizeEvent(QResizeEvent*) {
  ask();
}

void SeamRibbon::showEvent(QShowEvent*) {
  ask();  // what changed meanwhile was not worked out
}

void SeamRibbon::setFindings(std::vector<Found> found) {
  if (found == found_) return;
  found_ = std::move(found);
  update();
}

QStringList SeamRibbon::foundAt(int place) const {
  QStringList names;
  if (!outline_ || place < 0 || place >= places()) return names;
  const base::Point& at = outline_->places[std::size_t(place)].at;
  for (const Found& f : found_) {
    if (f.where.contains(QPointF(at.x, at.y))) names << f.name;
  }
  return names;
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
      nextTrace(1);
    } else if (groundWordArea().contains(event->pos())) {
      setOverScene(!overScene_);
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
      nextTrace(event->key() == Qt::Key_Up ? -1 : 1);
      break;
    case Qt::Key_S:
      setOverScene(!overScene_);
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
