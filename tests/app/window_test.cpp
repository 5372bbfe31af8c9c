// The window as a whole: keeping, crashes, errors, keys, names.

#include <QAbstractSlider>
#include <QAccessible>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QScrollArea>
#include <QSignalSpy>

#include "app/window.h"
#include "core/store/project_file.h"

using namespace hseam;

class WindowTest : public QObject {
  Q_OBJECT
  test::SmallPictures pictures_;
  // The lamplighter with a first selection, and the button that solves in sight.
  static void readyToSolve(test::Window& w) {
    w.workspace().newScene({50, 50});
    w.open({test::demoPicture("lamplighter.jpg")});
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("Guess"));
    w.openPage("solve");
  }

 private slots:
  void stepsOutliveTheWindow() {
    QTemporaryDir dir;
    const QString project = dir.filePath(QStringLiteral("kept.hseam"));
    {
      test::Window w;
      w.workspace().newScene({50, 50});
      w.open({pictures_.ground, pictures_.subject});
      w.workspace().saveAs(project);
      QTRY_COMPARE_WITH_TIMEOUT(w.workspace().document().path(), project, 20000);
      w.settle();
      w.goTo(test::kPlace);
      w.click(QStringLiteral("Flip sideways"));
      w.click(QStringLiteral("Undo"));
    }
    test::Window w;
    w.open({project});
    QCOMPARE(w.desk().session.title(), QStringLiteral("kept"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(!w.scene().layers[1]->picture()->placement.flipX);
    w.click(QStringLiteral("Redo"));
    QVERIFY(w.scene().layers[1]->picture()->placement.flipX);
    for (int i = 0; i < 10; ++i) QTest::keyClick(&w.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.scene().layers.size(), std::size_t(0));
    QVERIFY(w.workspace().recents().contains(project));
  }
  void anUntitledSceneIsOfferedAgainAfterACrash() {
    // What a killed window leaves behind: an untitled project of a process that is gone, and whose number is in use again.
    const QString left =
        app::Workspace::recoveryFolder() + QStringLiteral("/untitled-%1-999999.hseam").arg(QCoreApplication::applicationPid());
    for (const QString& name : QDir(app::Workspace::recoveryFolder()).entryList(QDir::Files))
      QFile::remove(app::Workspace::recoveryFolder() + QLatin1Char('/') + name);
    {
      scene::Scene s;
      s.canvas = {64, 64};
      auto made = test::must(store::ProjectFile::create(left.toStdString(), s, "new scene", test::memory(), test::here()));
      scene::Layer l;
      l.id = {1};
      l.name = "survivor";
      scene::PictureContent p;
      p.source = test::picture(64, 64, 3, [](int, int, int) { return 99; });
      l.content = std::move(p);
      const scene::Scene next = test::must(scene::apply(s, scene::AddLayer{l, {}, -1}));
      test::must(made.file->keep({next, "add survivor"}, "AddLayer", 0));
    }
    test::Window w;
    QVERIFY(w.workspace().leftBehind().contains(left));
    w.goTo(test::kGather);
    w.openPage("open");
    QAbstractButton* offer = nullptr;
    for (auto* b : w.get().findChildren<QAbstractButton*>()) {
      if (b->isVisible() && b->text().startsWith(QStringLiteral("untitled,"))) offer = b;
    }
    QVERIFY(offer);
    QTest::mouseClick(offer, Qt::LeftButton);
    w.settle();
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
    QCOMPARE(QString::fromStdString(w.scene().layers[0]->name), QStringLiteral("survivor"));
    w.workspace().newScene({50, 50});
    w.workspace().discardLeftBehind(left);
    QVERIFY(!QFileInfo::exists(left));
  }
  void badFilesAreToldAndChangeNothing() {
    QTemporaryDir dir;
    const QString broken = dir.filePath(QStringLiteral("broken.jpg"));
    QFile f(broken);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write("this is no picture");
    f.close();
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground});
    const int steps = w.desk().session.history().count();
    QSignalSpy refused(&w.desk().messages, &app::Messages::refused);
    w.open({broken});
    QCOMPARE(refused.size(), 1);
    QVERIFY(refused[0][0].toString().contains(QStringLiteral("broken.jpg")));
    QCOMPARE(w.desk().session.history().count(), steps);
    bool told = false;
    for (auto* l : w.get().findChildren<QLabel*>()) told |= l->isVisible() && l->text().contains(QStringLiteral("broken.jpg"));
    QVERIFY(told);
    w.click(QStringLiteral("Understood"));
    w.open({dir.filePath(QStringLiteral("gone.hseam"))});
    QCOMPARE(refused.size(), 2);
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
  }
  void stoppingAJobChangesNothing() {
    test::Window w;
    readyToSolve(w);
    const int steps = w.desk().session.history().count();
    QTest::mouseClick(w.find<QAbstractButton>(QStringLiteral("Solve")), Qt::LeftButton);
    QVERIFY(w.desk().jobs.running());
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 300) QApplication::processEvents(QEventLoop::AllEvents, 10);
    clock.restart();
    w.click(QStringLiteral("Stop"));
    QVERIFY2(clock.elapsed() < 3000, qPrintable(QString::number(clock.elapsed())));
    QCOMPARE(w.desk().session.history().count(), steps);
    QVERIFY(w.desk().session.activeLayer()->mask.coverage.isNull());
  }
  void theWindowAnswersWhileItSolves() {
    test::Window w;
    readyToSolve(w);
    QTest::mouseClick(w.find<QAbstractButton>(QStringLiteral("Solve")), Qt::LeftButton);
    // Painting meanwhile is kept: the mask keeps what was hidden by hand.
    w->station(test::kCutOut).openPage(QStringLiteral("paint"));
    QApplication::processEvents();
    QVERIFY(w.desk().jobs.running());
    const QPoint hat = w.at(1170, 600);
    QTest::mousePress(&w.canvas(), Qt::RightButton, {}, hat);
    QTest::mouseRelease(&w.canvas(), Qt::RightButton, {}, hat);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 1170, 600), 0);
    w.settle();
    QVERIFY(!w.desk().session.activeLayer()->picture()->cutout->alpha.isNull());
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 1170, 600), 0);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 1170, 1800), 255);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 100, 100), 0);
  }
  void everyControlHasAWordAndAWay() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    for (int station = 0; station < 6; ++station) {
      w.goTo(test::StationIndex(station));
      for (app::PageFrame* page : w->station(station).pages()->all()) {
        w->station(station).pages()->open(page);
        w.settle();
        for (QWidget* widget : w.get().findChildren<QWidget*>()) {
          const bool control = qobject_cast<QAbstractButton*>(widget) || qobject_cast<QComboBox*>(widget) ||
                               qobject_cast<QAbstractSpinBox*>(widget) || qobject_cast<QAbstractSlider*>(widget);
          if (!control || !widget->isVisible() || widget->inherits("QScrollBar") ||
              widget->objectName().startsWith(QStringLiteral("qt_")))
            continue;
          const QString where = QStringLiteral("%1, %2: %3 %4")
                                    .arg(w->station(station).name(), page->name(),
                                         QLatin1String(widget->metaObject()->className()), widget->accessibleName());
          QVERIFY2(!widget->toolTip().isEmpty(), qPrintable(where + QStringLiteral(" has no tooltip")));
          QAccessibleInterface* face = QAccessible::queryAccessibleInterface(widget);
          QVERIFY2(face && !face->text(QAccessible::Name).isEmpty(), qPrintable(where + QStringLiteral(" has no name")));
          QVERIFY2(widget->focusPolicy() & Qt::TabFocus, qPrintable(where + QStringLiteral(" cannot be reached by Tab")));
        }
      }
    }
    for (const char* name : {"Canvas", "Sheet of layers"}) {
      const auto all = w.get().findChildren<QWidget*>();
      QVERIFY2(std::any_of(all.begin(), all.end(), [&](QWidget* x) { return x->accessibleName() == QLatin1String(name); }), name);
    }
  }
  void nothingIsCutOffInTheSmallestWindow() {
    test::Window w(QSize(1100, 700));
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    QCOMPARE(w->size(), QSize(1100, 700));
    for (int station = 0; station < 6; ++station) {
      w.goTo(test::StationIndex(station));
      for (app::PageFrame* page : w->station(station).pages()->all()) {
        w->station(station).pages()->open(page);
        w.settle();
        for (auto* b : w.get().findChildren<QAbstractButton*>()) {
          if (!b->isVisible()) continue;
          QVERIFY2(b->width() + 1 >= b->minimumSizeHint().width(), qPrintable(QStringLiteral("%1 in %2: %3 < %4")
                                                                                  .arg(b->text(), page->name())
                                                                                  .arg(b->width())
                                                                                  .arg(b->minimumSizeHint().width())));
          // Nothing may stick out of what scrolls up and down only.
          for (QWidget* p = b->parentWidget(); p; p = p->parentWidget()) {
            if (!qobject_cast<QScrollArea*>(p->parentWidget() ? p->parentWidget()->parentWidget() : nullptr) &&
                !qobject_cast<QScrollArea*>(p->parentWidget()))
              continue;
            QVERIFY2(b->mapTo(p, QPoint(b->width(), 0)).x() <= p->width() + 1, qPrintable(b->text()));
          }
        }
      }
    }
  }
  void keysReachEveryStationAndInstrument() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    for (int i = 0; i < 6; ++i) {
      w.goTo(test::StationIndex(i));
      QCOMPARE(w->currentStation(), i);
    }
    w.goTo(test::kCutOut);
    w.canvas().setFocus();
    QTest::keyClicks(&w.canvas(), QStringLiteral(";pa"));
    QCOMPARE(w->station(test::kCutOut).pages()->current()->name(), QStringLiteral("Paint the mask"));
    QTest::keyClicks(&w.canvas(), QStringLiteral(";u"));
    QCOMPARE(w->station(test::kCutOut).pages()->current()->name(), QStringLiteral("Undecided band"));
    QTest::keyClick(&w.get(), Qt::Key_0, Qt::AltModifier | Qt::ShiftModifier);
    QCOMPARE(w.canvas().zoom(), 1.0);
    QTest::keyClick(&w.canvas(), Qt::Key_Plus);
    QVERIFY(w.canvas().zoom() > 1);
    QTest::keyClick(&w.get(), Qt::Key_0, Qt::AltModifier);
    QVERIFY(w.canvas().zoom() != 1.25);
    // The next step by key.
    QTest::keyClick(&w.get(), Qt::Key_Return, Qt::ControlModifier);
    w.settle();
    QVERIFY(!w.desk().session.activeLayer()->picture()->cutout->selection.isNull());
  }
  void thePointersPlaceAndColourAreRead() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground});
    w.goTo(test::kLookOver);
    const QPoint p = w.at(320, 240);
    QMouseEvent move(QEvent::MouseMove, QPointF(p), w.canvas().mapToGlobal(QPointF(p)), Qt::NoButton, Qt::NoButton, {});
    QApplication::sendEvent(&w.canvas(), &move);
    w.settle();
    const auto* reading = w.find<QLabel>(QStringLiteral("Reading under the pointer"));
    QTRY_VERIFY2_WITH_TIMEOUT(reading->text().contains(QStringLiteral("L*")), qPrintable(reading->text()), 5000);
  }
};
HSEAM_TEST(WindowTest);
#include "window_test.moc"
