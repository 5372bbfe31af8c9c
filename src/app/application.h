#pragma once

#include <QApplication>
#include <new>

namespace hseam::app {

/// The application object. Where the window itself runs out of memory, the one action ends and is told; the window stays, and
/// every finished step is in the project.
class Application : public QApplication {
  Q_OBJECT

 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override {
    try {
      return QApplication::notify(receiver, event);
    } catch (const std::bad_alloc&) {
      emit outOfMemory();
      return false;
    }
  }

 signals:
  void outOfMemory();
};

}  // namespace hseam::app
