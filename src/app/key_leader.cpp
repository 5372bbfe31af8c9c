#include "app/key_leader.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>

namespace hseam::app {

KeyLeader::KeyLeader(QObject* parent) : QObject(parent) {
  qApp->installEventFilter(this);
}

bool KeyLeader::eventFilter(QObject*, QEvent* event) {
  if (event->type() != QEvent::KeyPress || !event->isAccepted()) return false;
  auto* key = static_cast<QKeyEvent*>(event);
  QWidget* focus = QApplication::focusWidget();
  if (qobject_cast<QLineEdit*>(focus) || qobject_cast<QAbstractSpinBox*>(focus)) return false;
  if (!led_) {
    if (key->text() != QStringLiteral(";")) return false;
    led_ = true;
    typed_.clear();
    emit started();
    return true;
  }
  if (key->text().isEmpty()) return false;  // Shift and its like
  QList<int> fits;
  if (key->key() != Qt::Key_Escape) {
    typed_ += key->text();
    for (int i = 0; i < names_.size(); ++i) {
      if (names_[i].startsWith(typed_, Qt::CaseInsensitive)) fits << i;
    }
  }
  if (fits.size() > 1) return true;
  led_ = false;
  if (fits.size() == 1) emit chosen(fits[0]);
  emit ended();
  return true;
}

}  // namespace hseam::app
