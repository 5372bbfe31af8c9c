#include "app/contact/picture_panes.h"

#include <QFileInfo>
#include <QKeyEvent>
#include <QLocale>
#include <QPainter>
#include <QWheelEvent>
#include <cmath>

#include "app/theme/theme.h"
#include "app/widgets/raster_image.h"
#include "core/image/preview.h"

namespace hseam::app {
namespace {

constexpr double kMostZoom = 32;
constexpr int kNameHeight = 24, kGap = 2, kWhole = 1 << 20;  // px; the last: all there is

}  // namespace

PicturePanes::PicturePanes(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Pictures beside one another"));
  setToolTip(tr("Wheel: zoom. Drag: move. Left and right: the next picture at the same place. Escape: back to the sheet"));
  pool_.setMaxThreadCount(2);
}

PicturePanes::~PicturePanes() {
  pool_.clear();
  pool_.waitForDone();
}

QStringList PicturePanes::paths() const {
  QStringList out;
  for (const Pane& p : panes_) out << p.path;
  return out;
}

void PicturePanes::show(const QStringList& paths) {
  std::vector<Pane> next;
  for (const QString& path : paths.mid(0, kMost)) {
    const auto known = std::find_if(panes_.begin(), panes_.end(), [&](const Pane& p) { return p.path == path; });
    next.push_back(known == panes_.end() ? Pane{path, {}, {}, 0} : *known);
  }
  panes_ = std::move(next);
  wantEnough();
  update();
}

void PicturePanes::setZoom(double zoom, QPointF middle) {
  zoom_ = std::clamp(zoom, 1.0, kMostZoom);
  const double edge = 0.5 / zoom_;
  middle_ = {std::clamp(middle.x(), edge, 1 - edge), std::clamp(middle.y(), edge, 1 - edge)};
  wantEnough();
  update();
}

QRectF PicturePanes::room(std::size_t pane) const {
  const std::size_t count = std::max<std::size_t>(1, panes_.size()), columns = count == 1 ? 1 : 2, rows = (count + 1) / 2;
  const double w = (width() - kGap * double(columns - 1)) / double(columns),
               h = (height() - kGap * double(rows - 1)) / double(rows);
  return {double(pane % columns) * (w + kGap), double(pane / columns) * (h + kGap), w, h - kNameHeight};
}

QSizeF PicturePanes::fitted(std::size_t pane) const {
  return QSizeF(panes_[pane].picture.size()).scaled(room(pane).size(), Qt::KeepAspectRatio) * zoom_;
}

// Enough px for what is seen: at first for the pane, when it is zoomed all of the picture.
void PicturePanes::wantEnough() {
  for (std::size_t i = 0; i < panes_.size(); ++i) {
    const QSizeF size = room(i).size() * devicePixelRatioF();
    load(i, zoom_ > 1 ? kWhole : int(std::max(size.width(), size.height())));
  }
}

void PicturePanes::load(std::size_t pane, int longest) {
  Pane& p = panes_[pane];
  if (p.longest >= longest || !p.problem.isEmpty()) return;
  p.longest = longest;
  ++loading_;
  pool_.start([this, path = p.path, longest] {
    const auto read = image::preview(path.toStdString(), longest);
    const QImage image = read.ok() ? imageOf(*read) : QImage();
    const QString problem = read.ok() ? QString() : QString::fromStdString(read.error().detail);
    QMetaObject::invokeMethod(
        this,
        [this, path, image, problem] {
          --loading_;
          for (Pane& each : panes_) {
            if (each.path != path || image.width() < each.picture.width()) continue;
            each.picture = image;
            each.problem = problem;
          }
          update();
        },
        Qt::QueuedConnection);
  });
}

void PicturePanes::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), palette().window());
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.setFont(theme::font(theme::Size::small));
  for (std::size_t i = 0; i < panes_.size(); ++i) {
    const QRectF r = room(i);
    const Pane& p = panes_[i];
    painter.setPen(palette().color(QPalette::Text));
    painter.drawText(
        QRectF(r.left() + 8, r.bottom(), r.width() - 16, kNameHeight), Qt::AlignVCenter | Qt::AlignLeft,
        p.picture.isNull() ? QFileInfo(p.path).fileName() + (p.problem.isEmpty() ? tr(": being read…") : tr(": ") + p.problem)
        : zoom_ <= 1       ? QFileInfo(p.path).fileName()
                           : tr("%1 · %2 times as large").arg(QFileInfo(p.path).fileName(), QLocale().toString(zoom_, 'f', 1)));
    if (p.picture.isNull()) continue;
    painter.save();
    painter.setClipRect(r);
    const QSizeF size = fitted(i);
    // Whole pictures lie in the middle; of larger ones the place that all show.
    const double x = r.center().x() - size.width() * middle_.x(), y = r.center().y() - size.height() * middle_.y();
    painter.drawImage(QRectF(x, y, size.width(), size.height()), p.picture);
    painter.restore();
  }
}

void PicturePanes::wheelEvent(QWheelEvent* event) {
  if (panes_.empty()) return;
  // What lies under the pointer stays there.
  std::size_t pane = 0;
  for (std::size_t i = 0; i < panes_.size(); ++i) {
    if (room(i).contains(event->position())) pane = i;
  }
  const QSizeF before = fitted(pane);
  if (before.isEmpty()) return;
  const QPointF off = event->position() - room(pane).center();
  const QPointF at(middle_.x() + off.x() / before.width(), middle_.y() + off.y() / before.height());
  zoom_ = std::clamp(zoom_ * std::pow(1.2, event->angleDelta().y() / 120.0), 1.0, kMostZoom);
  const QSizeF after = fitted(pane);
  setZoom(zoom_, {at.x() - off.x() / after.width(), at.y() - off.y() / after.height()});
}

void PicturePanes::mousePressEvent(QMouseEvent* event) {
  pressedAt_ = event->position();
  middleThen_ = middle_;
}

void PicturePanes::mouseMoveEvent(QMouseEvent* event) {
  if (panes_.empty() || !(event->buttons() & Qt::LeftButton)) return;
  const QSizeF size = fitted(0);
  if (size.isEmpty()) return;
  const QPointF by = event->position() - pressedAt_;
  setZoom(zoom_, {middleThen_.x() - by.x() / size.width(), middleThen_.y() - by.y() / size.height()});
}

void PicturePanes::mouseDoubleClickEvent(QMouseEvent*) {
  emit closeAsked();
}

void PicturePanes::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Left:
      emit stepAsked(-1);
      return;
    case Qt::Key_Right:
      emit stepAsked(1);
      return;
    case Qt::Key_Up:
      setZoom(zoom_ * 1.2, middle_);
      return;
    case Qt::Key_Down:
      setZoom(zoom_ / 1.2, middle_);
      return;
    case Qt::Key_Escape:
    case Qt::Key_Return:
    case Qt::Key_Enter:
      emit closeAsked();
      return;
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace hseam::app
