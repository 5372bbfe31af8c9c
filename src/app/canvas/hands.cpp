// What hands do on the canvas: pointer, pen, wheel, keys and dropped files.

#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QTabletEvent>
#include <QUrl>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/canvas/canvas.h"

namespace hseam::app {

Touch Canvas::touchAt(QPointF p, Qt::MouseButton button, Qt::KeyboardModifiers modifiers, double pressure) const {
  return {toWidget().inverted().map(p), button, modifiers, pressure};
}

QRect Canvas::ringRect() const {
  const double r = std::max(8.0, instrument_->ringSize() / 2 * zoom_) + 4;
  const QPointF c = toWidget().map(pointer_);
  return QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r).toAlignedRect();
}

void Canvas::movePointer(QPointF p) {
  const bool ring = instrument_ && instrument_->ringSize() > 0 && !instrument_->drawsBeyondRing();
  if (ring && pointerInside_) update(ringRect());
  pointer_ = toWidget().inverted().map(p);
  pointerInside_ = true;
  setCursor(instrument_ && instrument_->ringSize() * zoom_ > 8 ? Qt::BlankCursor
                                                               : (instrument_ ? Qt::CrossCursor : Qt::ArrowCursor));
  emit pointerMoved(pointer_);
  if (ring) {
    update(ringRect());
  } else if (instrument_) {
    update();
  }
}

void Canvas::mousePressEvent(QMouseEvent* event) {
  setFocus(Qt::MouseFocusReason);
  if (event->button() == Qt::MiddleButton || (spaceHeld_ && event->button() == Qt::LeftButton)) {
    panning_ = true;
    panFrom_ = event->position();
    setCursor(Qt::ClosedHandCursor);
    return;
  }
  if (event->button() == Qt::LeftButton && held_ == Qt::NoButton && pressGuide(event->position())) return;
  if (curtain_ && std::abs(event->position().x() - width() * curtainShare_) < 12) {
    draggingCurtain_ = true;
    return;
  }
  if (held_ != Qt::NoButton) return;
  held_ = event->button();
  if (instrument_) instrument_->press(touchAt(event->position(), held_, event->modifiers(), 1));
  update();
}

void Canvas::mouseMoveEvent(QMouseEvent* event) {
  const QPointF p = event->position();
  if (panning_) {
    const QPointF by = p - panFrom_;
    centre_ -= QPointF(by.x() / (mirrored_ ? -zoom_ : zoom_), by.y() / zoom_);
    panFrom_ = p;
    fitting_ = false;
    wantTiles();
    update();
    emit viewMoved();
    return;
  }
  if (guide_) {
    moveGuide(p, false);
    return;
  }
  if (draggingCurtain_) {
    curtainShare_ = std::clamp(p.x() / width(), 0.02, 0.98);
    update();
    return;
  }
  movePointer(p);
  if (!instrument_) return;
  if (held_ != Qt::NoButton) {
    instrument_->move(touchAt(p, held_, event->modifiers(), 1));
  } else {
    instrument_->hover(pointer_);
  }
}

void Canvas::mouseReleaseEvent(QMouseEvent* event) {
  if (panning_ && (event->button() == Qt::MiddleButton || event->button() == Qt::LeftButton)) {
    panning_ = false;
    unsetCursor();
    return;
  }
  if (guide_) {
    moveGuide(event->position(), true);
    return;
  }
  if (draggingCurtain_) {
    draggingCurtain_ = false;
    return;
  }
  if (event->button() != held_) return;
  held_ = Qt::NoButton;
  if (instrument_) instrument_->release(touchAt(event->position(), event->button(), event->modifiers(), 1));
  update();
}

void Canvas::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!instrument_) {
    zoomToFit();
  } else if (!instrument_->doubleClick(touchAt(event->position(), event->button(), event->modifiers(), 1))) {
    mousePressEvent(event);
  }
}

void Canvas::tabletEvent(QTabletEvent* event) {
  const bool eraser = event->pointerType() == QPointingDevice::PointerType::Eraser;
  const Qt::MouseButton button =
      eraser ? Qt::RightButton
             : (event->button() == Qt::NoButton ? (held_ == Qt::NoButton ? Qt::LeftButton : held_) : event->button());
  const Touch touch = touchAt(event->position(), button, event->modifiers(), event->pressure());
  movePointer(event->position());
  event->accept();
  if (!instrument_) return;
  if (event->type() == QEvent::TabletPress) {
    held_ = button;
    instrument_->press(touch);
  } else if (event->type() == QEvent::TabletMove && held_ != Qt::NoButton) {
    instrument_->move(touch);
  } else if (event->type() == QEvent::TabletRelease) {
    held_ = Qt::NoButton;
    instrument_->release(touch);
  }
  update();
}

void Canvas::wheelEvent(QWheelEvent* event) {
  // With Alt some platforms report the wheel sideways.
  const double notches = (event->angleDelta().y() != 0 ? event->angleDelta().y() : event->angleDelta().x()) / 120.0;
  if ((event->modifiers() & Qt::AltModifier) && instrument_ &&
      instrument_->turn(notches, event->modifiers() & Qt::ShiftModifier)) {
    update();
    return;
  }
  zoomTo(zoom_ * std::pow(1.25, notches), event->position());
}

void Canvas::keyPressEvent(QKeyEvent* event) {
  const double step = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
  const auto nudge = [&](double dx, double dy) { return instrument_ && instrument_->nudge(dx * step, dy * step); };
  switch (event->key()) {
    case Qt::Key_Space:
      if (!event->isAutoRepeat()) {
        spaceHeld_ = true;
        setCursor(Qt::OpenHandCursor);
      }
      return;
    case Qt::Key_Left:
      if (nudge(-1, 0)) return;
      break;
    case Qt::Key_Right:
      if (nudge(1, 0)) return;
      break;
    case Qt::Key_Up:
      if (nudge(0, -1)) return;
      break;
    case Qt::Key_Down:
      if (nudge(0, 1)) return;
      break;
    case Qt::Key_Escape:
      if (instrument_) instrument_->cancel();
      update();
      return;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      zoomTo(zoom_ * 1.25, QPointF(width() / 2.0, height() / 2.0));
      return;
    case Qt::Key_Minus:
      zoomTo(zoom_ / 1.25, QPointF(width() / 2.0, height() / 2.0));
      return;
    default:
      break;
  }
  QWidget::keyPressEvent(event);
}

void Canvas::keyReleaseEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
    spaceHeld_ = false;
    unsetCursor();
    return;
  }
  QWidget::keyReleaseEvent(event);
}

void Canvas::leaveEvent(QEvent*) {
  pointerInside_ = false;
  update();
}

void Canvas::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void Canvas::dropEvent(QDropEvent* event) {
  QStringList paths;
  for (const QUrl& url : event->mimeData()->urls()) {
    if (url.isLocalFile()) paths.push_back(url.toLocalFile());
  }
  if (!paths.isEmpty()) emit filesDropped(paths);
}

}  // namespace hseam::app
