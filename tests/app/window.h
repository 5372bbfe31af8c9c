#pragma once
// The real window, driven as a hand would drive it.

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTest>
#include <QThread>

#include "app/main_window.h"
#include "app/theme/theme.h"
#include "core/image/picture_file.h"
#include "pictures.h"

namespace hseam::test {

enum StationIndex { kGather, kCutOut, kPlace, kMatch, kLookOver, kHandOver };

class Window {
 public:
  explicit Window(QSize size = {1280, 800}) {
    window_.resize(size);
    window_.show();
    if (!QTest::qWaitForWindowExposed(&window_)) qFatal("the window does not show");
  }
  app::MainWindow* operator->() { return &window_; }
  app::MainWindow& get() { return window_; }
  app::Desk& desk() { return window_.desk(); }
  app::Workspace& workspace() { return window_.workspace(); }
  app::Canvas& canvas() { return window_.canvas(); }
  const scene::Scene& scene() { return desk().session.scene(); }

  /// Until jobs have ended and all that is looked at is shown; the end of the program if that takes too long.
  void settle(int atMostMs = 600'000) {
    QElapsedTimer clock;
    clock.start();
    do {
      QApplication::processEvents(QEventLoop::AllEvents, 10);
      QThread::msleep(1);
      if (clock.elapsed() > atMostMs) qFatal("the window does not come to rest");
    } while (desk().jobs.running() || !canvas().settled() || desk().aside.running());
    QApplication::processEvents();
  }
  /// Opens files as if they had been dropped, and waits.
  void open(const QStringList& paths) {
    workspace().openFiles(paths);
    settle();
  }
  void goTo(StationIndex station) {
    QTest::keyClick(&window_, Qt::Key(int(Qt::Key_1) + int(station)), Qt::AltModifier);
    settle();
  }
  void choose(const QString& layer) {
    for (const auto& l : scene::allLayers(scene())) {
      if (QString::fromStdString(l->name) == layer) desk().session.setActive(l->id);
    }
    settle();
  }
  /// A page of the station that is open, by its id.
  void openPage(const char* id) {
    app::PageList& list = *window_.station(window_.currentStation()).pages();
    if (!list.find(QLatin1String(id))) qFatal("there is no page %s", id);
    list.open(QLatin1String(id));
    settle();
  }
  /// Keeps the project under a name; all of it is on the disk then.
  void saveAs(const QString& file) {
    workspace().saveAs(file);
    workspace().document().flush();
    settle();
  }
  template <class T>
  T* find(const QString& accessibleNameOrText) {
    for (T* w : window_.findChildren<T*>()) {
      if (!w->isVisible()) continue;
      if (w->accessibleName() == accessibleNameOrText) return w;
      if (auto* b = qobject_cast<QAbstractButton*>(w); b && b->text() == accessibleNameOrText) return w;
    }
    qFatal("there is no visible %s", qPrintable(accessibleNameOrText));
    return nullptr;
  }
  /// Whether a visible label's text begins so.
  bool labelThatBegins(const QString& text) {
    for (const QLabel* l : window_.findChildren<QLabel*>()) {
      if (l->isVisible() && l->text().startsWith(text)) return true;
    }
    return false;
  }
  void click(const QString& button) {
    auto* b = find<QAbstractButton>(button);
    if (!b->isEnabled()) qFatal("%s is not enabled", qPrintable(button));
    QTest::mouseClick(b, Qt::LeftButton, {}, QPoint(8, b->height() / 2));
    settle();
  }
  /// An entry of the list that a button opens.
  void pick(const QString& button, const QString& entry) {
    auto* b = find<QPushButton>(button);
    for (QAction* a : b->menu() ? b->menu()->actions() : QList<QAction*>()) {
      if (a->text() != entry) continue;
      a->trigger();
      settle();
      return;
    }
    qFatal("%s has no entry %s", qPrintable(button), qPrintable(entry));
  }
  /// Of the page "Blend": the mode after normal, chosen by key.
  void multiplyByKey() {
    auto* mode = find<QComboBox>(QStringLiteral("Blend mode"));
    mode->setFocus();
    QTest::keyClick(mode, Qt::Key_Down);
    settle();
  }
  /// px of the shown scene → px of the canvas widget.
  QPoint at(double x, double y) { return canvas().toWidget().map(QPointF(x, y)).toPoint(); }
  /// A drag through points of a widget.
  void dragIn(QWidget* widget, Qt::MouseButton button, const QList<QPoint>& way, Qt::KeyboardModifiers keys = {}) {
    QTest::mousePress(widget, button, keys, way.first());
    for (const QPoint& p : way.mid(1)) {
      QMouseEvent move(QEvent::MouseMove, QPointF(p), widget->mapToGlobal(QPointF(p)), button, button, keys);
      QApplication::sendEvent(widget, &move);
    }
    QTest::mouseRelease(widget, button, keys, way.last());
    settle();
  }
  /// A drag through points of the shown scene.
  void drag(Qt::MouseButton button, const QList<QPointF>& way, Qt::KeyboardModifiers keys = {}) {
    QList<QPoint> points;
    for (const QPointF& p : way) points << at(p.x(), p.y());
    dragIn(&canvas(), button, points, keys);
  }
  void type(QWidget* field, const QString& text) {
    field->setFocus();
    QTest::keyClick(field, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
    settle();
  }

 private:
  // The style comes before the widgets, as in the application.
  const bool styled_ = (app::theme::apply(*qApp), true);
  app::MainWindow window_;
};

inline QString demoPicture(const char* name) {
  return QStringLiteral(HSEAM_DEMO "/pictures/") + QLatin1String(name);
}

inline int maskAt(const scene::Layer& layer, int x, int y) {
  return int(*must(image::read8(layer.mask.coverage, 0, {x, y, 1, 1})).at(0, 0));
}

/// Two small pictures in a folder of their own: a grey ground and a disc on paper.
struct SmallPictures {
  QTemporaryDir dir;
  QString ground = dir.filePath(QStringLiteral("ground.png")), subject = dir.filePath(QStringLiteral("subject.png"));
  SmallPictures() {
    must(image::writeTiled(ground.toStdString(),
                           picture(640, 480, 3, [](int x, int y, int c) { return 90 + c * 20 + (x * 7 + y * 3) % 40; })));
    must(image::writeTiled(subject.toStdString(), picture(400, 320, 3, [](int x, int y, int c) {
                             const double a = std::clamp(100 - std::hypot(x - 200.0, y - 160.0) + 0.5, 0.0, 1.0);
                             return a * (c == 0 ? 190 : 60) + (1 - a) * 235 + (x * 5 + y * 11) % 7;
                           })));
  }
};

}  // namespace hseam::test
