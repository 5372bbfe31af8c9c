#include "app/widgets/tack_editor.h"

#include <QKeyEvent>
#include <QMouseEvent>

namespace hseam::app {

TackEditor::TackEditor(int height, QWidget* parent) : QWidget(parent) {
  setFixedHeight(height);
  setFocusPolicy(Qt::StrongFocus);
}

void TackEditor::mousePressEvent(QMouseEvent* event) {
  if (!take(event->position())) return;
  dragging_ = true;
  mouseMoveEvent(event);
}

void TackEditor::mouseMoveEvent(QMouseEvent* event) {
  if (!dragging_) return;
  moveTo(event->position());
  update();
  tell(false);
}

void TackEditor::mouseReleaseEvent(QMouseEvent*) {
  if (!dragging_) return;
  dragging_ = false;
  tell(true);
}

void TackEditor::mouseDoubleClickEvent(QMouseEvent* event) {
  if (!take(event->position())) return;
  dragging_ = false;
  setBack();
  update();
  tell(true);
}

void TackEditor::keyPressEvent(QKeyEvent* event) {
  const auto way = [&](Qt::Key more, Qt::Key less) { return int(event->key() == more) - int(event->key() == less); };
  const int x = way(Qt::Key_Right, Qt::Key_Left), y = way(Qt::Key_Up, Qt::Key_Down);
  if (event->key() == Qt::Key_Space) {
    next();
    update();
    return;
  }
  if (event->key() == Qt::Key_Delete) {
    setBack();
  } else if ((x == 0 && y == 0) || !step(x, y, event->modifiers() & Qt::ShiftModifier)) {
    QWidget::keyPressEvent(event);
    return;
  }
  update();
  tell(true);
}

}  // namespace hseam::app
