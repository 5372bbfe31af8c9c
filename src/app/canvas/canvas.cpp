#include "app/canvas/canvas.h"

#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <functional>

#include "app/theme/theme.h"

namespace hseam::app {
namespace {

constexpr double kSurround = 24;    // px round the picture at fit
constexpr double kLargeRing = 120;  // px of the screen
constexpr double kSmallestZoom = 1.0 / 64, kLargestZoom = 32;

}  // namespace

Canvas::Canvas(QWidget* parent) : QWidget(parent) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setAcceptDrops(true);
  setAttribute(Qt::WA_OpaquePaintEvent);
  setAccessibleName(tr("Canvas"));
  setAccessibleDescription(tr("The picture. The wheel zooms, the middle button or the space bar with a drag moves the view."));
  for (ScreenTiles* t : {&tiles_, &before_}) {
    connect(t, &ScreenTiles::arrived, this, &Canvas::updateTile);
    connect(t, &ScreenTiles::failed, this, &Canvas::failed);
  }
}

void Canvas::show(const scene::Scene& scene, const View& view) {
  const bool other = scene.canvas != tiles_.scene().canvas;
  const bool sameLook = !other && view == tiles_.view() && scene.guides == tiles_.scene().guides;
  tiles_.show(scene, view);
  if (other) {
    centre_ = {scene.canvas.width / 2.0, scene.canvas.height / 2.0};
    zoomToFit();
  }
  wantTiles();
  // What has changed in the picture is painted as it arrives.
  if (!sameLook) update();
}

void Canvas::setBefore(const std::optional<scene::Scene>& scene) {
  if (!scene && !curtain_) return;
  curtain_ = scene.has_value();
  if (scene) before_.show(*scene, {});
  wantTiles();
  update();
}

void Canvas::setInstrument(Instrument* instrument) {
  if (instrument_ == instrument) {
    if (instrument_ && instrument_->ringSize() <= 0) update();  // its handles follow the scene
    return;
  }
  if (instrument_) instrument_->cancel();
  instrument_ = instrument;
  update();
}

void Canvas::setOverlay(std::function<void(QPainter&, const QTransform&, const QRect&)> overlay) {
  const bool any = overlay_ || overlay;
  overlay_ = std::move(overlay);
  if (any) update();
}

void Canvas::setActiveOutline(const QPolygonF& outline, const QString& name) {
  if (outline == outline_ && name == outlineName_) return;
  outline_ = outline;
  outlineName_ = name;
  update();
}

void Canvas::setDisplay(const std::shared_ptr<const image::DisplayTransform>& display) {
  tiles_.setDisplay(display);
  before_.setDisplay(display);
}

void Canvas::follow(const Canvas& other) {
  // By shares of the picture, so that a smaller copy of the same scene goes along too.
  const base::Size mine = tiles_.scene().canvas, theirs = other.tiles_.scene().canvas;
  if (mine.empty() || theirs.empty()) return;
  const double k = double(mine.width) / theirs.width;
  centre_ = QPointF(other.centre_.x() * k, other.centre_.y() * mine.height / theirs.height);
  zoom_ = std::clamp(other.zoom_ / k, kSmallestZoom, kLargestZoom);
  fitting_ = false;
  wantTiles();
  update();
}

void Canvas::setMirrored(bool mirrored) {
  if (mirrored == mirrored_) return;
  mirrored_ = mirrored;
  update();
}

QTransform Canvas::toWidget() const {
  QTransform t;
  t.translate(width() / 2.0, height() / 2.0);
  t.scale(mirrored_ ? -zoom_ : zoom_, zoom_);
  t.translate(-centre_.x(), -centre_.y());
  if (zoom_ < 1) return t;
  // Whole pixels of the screen, so that 1:1 is exact.
  return QTransform(t.m11(), 0, 0, t.m22(), std::round(t.dx()), std::round(t.dy()));
}

void Canvas::zoomToFit() {
  const base::Size canvas = tiles_.scene().canvas;
  if (canvas.empty() || width() < 2 * kSurround || height() < 2 * kSurround) return;
  fitting_ = true;
  zoom_ = std::min({(width() - 2 * kSurround) / canvas.width, (height() - 2 * kSurround) / canvas.height, 8.0});
  centre_ = {canvas.width / 2.0, canvas.height / 2.0};
  wantTiles();
  update();
  emit zoomChanged();
  emit viewMoved();
}

void Canvas::lookAt(QPointF scenePoint, double zoom) {
  centre_ = scenePoint;
  zoomTo(std::max(zoom, zoom_), QPointF(width() / 2.0, height() / 2.0));
}

void Canvas::zoomTo(double zoom, QPointF widgetPoint) {
  const QPointF held = toWidget().inverted().map(widgetPoint);
  fitting_ = false;
  zoom_ = std::clamp(zoom, kSmallestZoom, kLargestZoom);
  if (std::abs(zoom_ - 1) < 0.02) zoom_ = 1;
  const double sx = mirrored_ ? -zoom_ : zoom_;
  centre_ = held - QPointF((widgetPoint.x() - width() / 2.0) / sx, (widgetPoint.y() - height() / 2.0) / zoom_);
  wantTiles();
  update();
  emit zoomChanged();
  emit viewMoved();
}

// The level next finer than the screen: a reduction is never enlarged again.
int Canvas::level() const {
  return std::clamp(int(std::floor(std::log2(1 / std::min(1.0, zoom_ * devicePixelRatioF())) + 1e-6)), 0, 7);
}

void Canvas::wantTiles() {
  const base::Size canvas = tiles_.scene().canvas;
  if (canvas.empty()) return;
  const int n = level();
  const QRectF seen = toWidget().inverted().mapRect(QRectF(rect())).intersected(QRectF(0, 0, canvas.width, canvas.height));
  if (seen.isEmpty()) return;
  const double side = double(ScreenTiles::kSide) * (1 << n);
  const QRect tiles(QPoint(int(seen.left() / side), int(seen.top() / side)),
                    QPoint(int((seen.right() - 1e-6) / side), int((seen.bottom() - 1e-6) / side)));
  tiles_.want(n, tiles);
  if (curtain_) before_.want(n, tiles);
}

void Canvas::drawTiles(QPainter& painter, const ScreenTiles& tiles, const QRectF& clip) const {
  const base::Size canvas = tiles.scene().canvas;
  if (canvas.empty()) return;
  const QTransform map = toWidget();
  const QRectF seen = map.inverted().mapRect(clip).intersected(QRectF(0, 0, canvas.width, canvas.height));
  painter.save();
  painter.setClipRect(clip);
  painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom_ < 1 || (zoom_ > 1 && zoom_ < 3 && zoom_ != 2));
  const auto draw = [&](int n, int x, int y) {
    const double side = double(ScreenTiles::kSide) * (1 << n);
    const QImage* image = tiles.tile(n, {x, y});
    if (!image) return false;
    const QRectF place(x * side, y * side, double(image->width()) * (1 << n), double(image->height()) * (1 << n));
    const QRectF on = map.mapRect(place.intersected(QRectF(0, 0, canvas.width, canvas.height)));
    // Neighbours share their rounded border: no seams, no overlap.
    const QPoint from(qRound(on.left()), qRound(on.top())), to(qRound(on.right()), qRound(on.bottom()));
    const QRect target(from, QSize(to.x() - from.x(), to.y() - from.y()));
    if (mirrored_) {
      painter.drawImage(target, image->mirrored(true, false));
    } else {
      painter.drawImage(target, *image);
    }
    return true;
  };
  const auto each = [&](int n, const std::function<void(int, int)>& visit) {
    const double side = double(ScreenTiles::kSide) * (1 << n);
    for (int y = int(seen.top() / side); y * side < seen.bottom(); ++y) {
      for (int x = int(seen.left() / side); x * side < seen.right(); ++x) visit(x, y);
    }
  };
  // Coarser tiles stand in while finer ones are on their way.
  bool missing = false;
  each(level(), [&](int x, int y) { missing |= tiles.tile(level(), {x, y}) == nullptr; });
  if (missing && level() < 7) each(std::min(level() + 2, 7), [&](int x, int y) { draw(std::min(level() + 2, 7), x, y); });
  each(level(), [&](int x, int y) { draw(level(), x, y); });
  painter.restore();
}

void Canvas::paintEvent(QPaintEvent* event) {
  QPainter painter(this);
  painter.fillRect(event->rect(), theme::colours().open);
  drawTiles(painter, tiles_, event->rect());
  if (curtain_) {
    const double x = std::round(width() * curtainShare_);
    drawTiles(painter, before_, QRectF(event->rect()).intersected(QRectF(0, 0, x, height())));
    painter.setPen(QPen(theme::colours().blue, 2, Qt::DashLine));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setFont(theme::font(theme::Size::small));
    const auto tag = [&](const QString& text, QPointF corner) {
      const QRectF box(corner, QSizeF(painter.fontMetrics().horizontalAdvance(text) + 16, 22));
      painter.fillRect(box, theme::colours().sunk);
      painter.setPen(theme::colours().text);
      painter.drawText(box, Qt::AlignCenter, text);
    };
    tag(tr("before"), {x - painter.fontMetrics().horizontalAdvance(tr("before")) - 26, 12});
    tag(tr("now"), {x + 10, 12});
  }
  painter.setRenderHint(QPainter::Antialiasing);
  if (overlay_) overlay_(painter, toWidget(), rect());
  drawActiveOutline(painter);
  if (instrument_) instrument_->paintOver(painter, toWidget());
  drawRing(painter);
  painter.setRenderHint(QPainter::Antialiasing, false);
  if (rulers_) {
    drawGuides(painter);
    drawRulers(painter);
  }
  painter.end();
  emit painted();
}

void Canvas::drawActiveOutline(QPainter& painter) const {
  if (outline_.isEmpty()) return;
  const QPolygonF shape = toWidget().map(outline_);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(QColor(0, 0, 0, 150), 2.4));
  painter.drawPolygon(shape);
  QPen stitch(QColor(255, 255, 255, 230), 1.4);
  stitch.setDashPattern({5, 4});
  painter.setPen(stitch);
  painter.drawPolygon(shape);
  painter.setFont(theme::font(theme::Size::small));
  const double w = painter.fontMetrics().horizontalAdvance(outlineName_) + 16;
  const QRectF bounds = shape.boundingRect();
  const QRectF tag(std::clamp(bounds.center().x() - w / 2, 4.0, std::max(4.0, width() - w - 4)),
                   std::clamp(bounds.top() - 26, 4.0, std::max(4.0, height() - 26.0)), w, 22);
  painter.setPen(Qt::NoPen);
  painter.setBrush(theme::colours().sunk);
  painter.drawRoundedRect(tag, 4, 4);
  painter.setPen(theme::colours().text);
  painter.drawText(tag, Qt::AlignCenter, outlineName_);
}

void Canvas::drawRing(QPainter& painter) const {
  if (!instrument_ || !pointerInside_ || instrument_->ringSize() <= 0) return;
  const QPointF c = toWidget().map(pointer_);
  const double r = std::max(2.0, instrument_->ringSize() / 2 * zoom_), inner = r * instrument_->ringHardness();
  painter.setBrush(Qt::NoBrush);
  if (r > kLargeRing) {
    // Smooth wide circles of this size take longer than the brush itself: thin ones, dark beside light, show as well.
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(QColor(0, 0, 0, 160), 0));
    for (const double beside : {-1.0, 1.0}) painter.drawEllipse(c, r + beside, r + beside);
    painter.setPen(QPen(Qt::white, 0));
    painter.drawEllipse(c, r, r);
    painter.setPen(QPen(QColor(255, 255, 255, 110), 0));
    if (inner < r - 2) painter.drawEllipse(c, inner, inner);
    painter.setRenderHint(QPainter::Antialiasing);
  } else {
    painter.setPen(QPen(QColor(0, 0, 0, 160), 2.6));
    painter.drawEllipse(c, r, r);
    painter.setPen(QPen(Qt::white, 1.3));
    painter.drawEllipse(c, r, r);
    if (inner < r - 2 && inner > 2) {
      painter.setPen(QPen(QColor(255, 255, 255, 170), 1, Qt::DotLine));
      painter.drawEllipse(c, inner, inner);
    }
  }
  const bool minus = held_ == Qt::RightButton;
  painter.setPen(QPen(Qt::white, 1.6));
  painter.drawLine(c - QPointF(4, 0), c + QPointF(4, 0));
  if (!minus) painter.drawLine(c - QPointF(0, 4), c + QPointF(0, 4));
}

void Canvas::updateTile(int n, QPoint at) {
  const double side = double(ScreenTiles::kSide) * (1 << n);
  update(toWidget().mapRect(QRectF(at.x() * side, at.y() * side, side, side)).toAlignedRect().adjusted(-2, -2, 2, 2));
}

void Canvas::resizeEvent(QResizeEvent*) {
  if (fitting_) zoomToFit();
  wantTiles();
}

}  // namespace hseam::app
