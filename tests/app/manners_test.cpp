#include <unistd.h>

#include <QAccessible>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QDoubleSpinBox>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QPointingDevice>
#include <QPushButton>
#include <QRadioButton>
#include <QScrollArea>
#include <QSettings>
#include <QSpinBox>
#include <QTabletEvent>
#include <QTimer>

#include "app/first_steps.h"
#include "app/keys/keys.h"
#include "app/stations/hand_over/hand_over.h"
#include "app/stations/look_over/look_over.h"
#include "app/two_pictures.h"
#include "as_anyone.h"
#include "core/image/transfer.h"
#include "core/store/open_raster.h"
#include "inks.h"

using namespace hseam;

// What belongs to the window rather than to the cut: keys, first steps, looks, the monitor, access, the pen.
class MannersTest : public test::TwoPictures {
  Q_OBJECT

 private slots:
  void init() { QSettings().clear(); }

  void keysAreChangedKeptAndClashesTold() {
    {
      test::Window w;
      begin(w);
      const auto inSheet = [&](const std::function<void(QDialog*)>& act) {
        QTimer::singleShot(200, &w.get(), [&, act] {
          auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
          if (!dialog) qFatal("the list of keys did not open");
          act(dialog);
          dialog->accept();
        });
        QTest::keyClick(&w.get(), Qt::Key_F1);
      };
      const auto field = [](QDialog* d, const QString& words) {
        for (auto* e : d->findChildren<QKeySequenceEdit*>()) {
          if (e->accessibleName() == words) return e;
        }
        qFatal("no such key");
      };
      inSheet([&](QDialog* d) {
        auto* undo = field(d, QStringLiteral("take back the last step"));
        undo->setKeySequence(QKeySequence(QStringLiteral("Ctrl+D")));
        emit undo->editingFinished();
        QVERIFY(d->findChild<QLabel*>(QStringLiteral("clash"))->text().contains(QStringLiteral("copy the active layer")));
        QCOMPARE(undo->keySequence(), QKeySequence(QStringLiteral("Ctrl+Z")));
        undo->setKeySequence(QKeySequence(QStringLiteral("Ctrl+Shift+U")));
        emit undo->editingFinished();
        QVERIFY(d->findChild<QLabel*>(QStringLiteral("clash"))->text().isEmpty());
      });
      w->activateWindow();
      QVERIFY(QTest::qWaitForWindowActive(&w.get()));
      const std::size_t layers = w.scene().layers.size();
      QTest::keyClick(&w.get(), Qt::Key_U, Qt::ControlModifier | Qt::ShiftModifier);
      w.settle();
      QCOMPARE(w.scene().layers.size(), layers - 1);
    }
    test::Window again;
    QCOMPARE(again->keys().text(QStringLiteral("undo")), QStringLiteral("Ctrl+Shift+U"));
    again->keys().resetAll();
    QCOMPARE(again->keys().text(QStringLiteral("undo")), QStringLiteral("Ctrl+Z"));
  }
  void theFirstStepsFollowTheWork() {
    test::Window w;
    w->firstSteps().begin();
    QCOMPARE(w->firstSteps().step(), 0);
    begin(w);
    QCOMPARE(w->firstSteps().step(), 1);
    w.click(QStringLiteral("Show me where"));
    QCOMPARE(w->currentStation(), int(test::kCutOut));
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), test::disc400(w.desk().session.memory()), "by hand"});
    QCOMPARE(w->firstSteps().step(), 2);
    w.click(QStringLiteral("Put away"));
    QVERIFY(!w->firstSteps().isVisible() && !app::FirstSteps::wanted());
  }
  void bothLooksCanBeRead() {
    // 4.5:1 (WCAG 2.1, 1.4.3) for all text on all grounds it is used on, in both looks.
    const auto light = [](const QColor& c) {
      const auto lin = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
      return 0.2126 * lin(c.redF()) + 0.7152 * lin(c.greenF()) + 0.0722 * lin(c.blueF());
    };
    const auto contrast = [&](const QColor& a, const QColor& b) {
      const double x = light(a), y = light(b);
      return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    };
    test::Window w;
    begin(w);
    for (const auto look : {app::theme::Look::light, app::theme::Look::dark}) {
      w->setLook(look);
      const app::theme::Colours& c = app::theme::colours();
      for (const QColor& ground : {c.base, c.raised, c.open, c.sunk}) {
        QVERIFY(ground.red() == ground.green() && ground.green() == ground.blue());
        QVERIFY2(contrast(c.text, ground) >= 4.5, qPrintable(ground.name()));
        QVERIFY2(contrast(c.quiet, ground) >= 4.5 || ground == c.open, qPrintable(ground.name()));
      }
      for (const QColor& ground : {c.control, c.raised, c.sunk})
        QVERIFY2(contrast(c.blue, ground) >= 4.5, qPrintable(ground.name()));
      QVERIFY(contrast(c.onBlue, c.blue) >= 4.5 && contrast(c.orange, c.sunk) >= 4.5);
      // The surround is really drawn in it.
      QCOMPARE(w.canvas().grab().toImage().pixelColor(4, 4).rgb(), c.open.rgb());
    }
    QCOMPARE(QSettings().value(QStringLiteral("look")).toString(), QStringLiteral("dark"));
  }
  void aReferenceIsPinnedBesideAndMovesAlong() {
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    w.openPage("beside");
    w.click(QStringLiteral("Pin the scene"));
    app::Canvas& beside = w->besideCanvas();
    QVERIFY(beside.isVisible());
    w.goTo(test::kPlace);
    QVERIFY(beside.isVisible());
    w.canvas().zoomTo(2, QPointF(w.canvas().width() / 2.0, w.canvas().height() / 2.0));
    w.settle();
    QCOMPARE(beside.zoom(), w.canvas().zoom());
    // What is pinned stays as it was.
    w.choose(QStringLiteral("subject"));
    w.desk().session.apply(scene::SetHidden{w.desk().session.active(), true});
    w.settle();
    QVERIFY(!beside.shownScene().layers.back()->hidden);
    qobject_cast<app::LookOver*>(&w->station(test::kLookOver))->reference().takeAway();
    QVERIFY(!beside.isVisible());
  }
  void theCanvasGoesThroughTheMonitorsProfile() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.choose(QStringLiteral("ground"));
    w.desk().session.apply(scene::SetHidden{layer(w, "subject").id, true});
    w.settle();
    const QPoint at = w.at(320, 240);
    const QColor plain = w.canvas().grab().toImage().pixelColor(at);
    // A monitor whose numbers are light: what it is sent must be the light of the encoded value.
    const QString profile = small_.dir.filePath(QStringLiteral("linear.icc"));
    QFile f(profile);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(inks::linearSrgbProfile());
    f.close();
    app::Monitor& monitor = qobject_cast<app::LookOver*>(&w->station(test::kLookOver))->monitor();
    QVERIFY(monitor.choose(profile));
    w.settle();
    const QColor sent = w.canvas().grab().toImage().pixelColor(at);
    QVERIFY2(std::abs(sent.green() - 255 * image::linearFromEncoded(plain.greenF())) < 2.5,
             qPrintable(sent.name() + plain.name()));
    // No profile at all, and one that is none.
    QVERIFY(!monitor.choose(small_.ground));
    QVERIFY(monitor.choose({}));
    w.settle();
    // The word about it takes a little of the canvas's height.
    QCOMPARE(w.canvas().grab().toImage().pixelColor(w.at(320, 240)), plain);
  }
  void theSceneIsProofedOnPaperAndShownAtItsPrintedSize() {
    test::Window w;
    begin(w);
    w.goTo(test::kLookOver);
    w.desk().session.apply(scene::SetHidden{layer(w, "subject").id, true});
    w.settle();
    const QColor plain = w.canvas().grab().toImage().pixelColor(w.at(320, 240));
    app::OnPaper& paper = qobject_cast<app::LookOver*>(&w->station(test::kLookOver))->onPaper();
    w.openPage("paper");
    QVERIFY(!paper.choose(small_.ground));
    // A paper of 80 % and inks like sRGB: white paper shows duller when it is asked for.
    const QString profile = small_.dir.filePath(QStringLiteral("paper.icc"));
    QFile f(profile);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(inks::dullPaperProfile(0.8));
    f.close();
    QVERIFY(paper.choose(profile));
    w.settle();
    QVERIFY(std::abs(w.canvas().grab().toImage().pixelColor(w.at(320, 240)).green() - plain.green()) <= 2);
    w.click(QStringLiteral("with the paper's own white and black"));
    w.settle();
    const QColor dull = w.canvas().grab().toImage().pixelColor(w.at(320, 240));
    const double wanted = 255 * image::encodedFromLinear(0.8 * image::linearFromEncoded(plain.greenF()));
    QVERIFY2(std::abs(dull.green() - wanted) < 4, qPrintable(dull.name() + plain.name()));
    // The proof belongs to this station.
    w.goTo(test::kPlace);
    w.settle();
    QCOMPARE(w.canvas().grab().toImage().pixelColor(w.at(320, 240)), plain);
    w.goTo(test::kLookOver);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("printed at")), QStringLiteral("200"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("this screen")), QStringLiteral("100"));
    w.click(QStringLiteral("Show it as large as it will be"));
    QCOMPARE(w.canvas().zoom(), 0.5);
    const base::Size c = w.scene().canvas;
    const QString told = w.find<QLabel>(QStringLiteral("Printed size"))->text();
    QVERIFY2(told.startsWith(
                 QStringLiteral("%1 × %2 cm").arg(c.width / 200.0 * 2.54, 0, 'f', 1).arg(c.height / 200.0 * 2.54, 0, 'f', 1)),
             qPrintable(told));
  }
  void everyPageFitsTheBench() {
    test::Window w;
    begin(w);
    for (int station = 0; station < 6; ++station) {
      w.goTo(test::StationIndex(station));
      for (app::PageFrame* page : w->station(station).pages()->all()) {
        w->station(station).pages()->open(page);
        w.settle();
        for (const auto* scroll : w.get().findChildren<QScrollArea*>()) {
          if (!scroll->widget() || !scroll->widget()->isAncestorOf(page)) continue;
          const int needs = scroll->widget()->minimumSizeHint().width(), has = scroll->viewport()->width();
          QVERIFY2(needs <= has, qPrintable(QStringLiteral("%1: %2 px in %3").arg(page->name()).arg(needs).arg(has)));
        }
      }
    }
  }
  void everythingStandsInTheAccessibilityTreeAndTabComesBy() {
    test::Window w;
    begin(w);
    for (int station = 0; station < 6; ++station) {
      w.goTo(test::StationIndex(station));
      // What a screen reader walks: every part that takes the focus has a role and a name.
      int told = 0;
      const std::function<void(QAccessibleInterface*)> walk = [&](QAccessibleInterface* i) {
        if (!i || i->state().invisible) return;
        const bool acts = i->state().focusable && i->role() != QAccessible::Window && i->role() != QAccessible::Client;
        if (acts) {
          QVERIFY2(!i->text(QAccessible::Name).isEmpty(),
                   qPrintable(QStringLiteral("%1: role %2 has no name").arg(w->station(station).name()).arg(int(i->role()))));
          ++told;
        }
        for (int c = 0; c < i->childCount() && !QTest::currentTestFailed(); ++c) walk(i->child(c));
      };
      walk(QAccessible::queryAccessibleInterface(&w.get()));
      QVERIFY2(told > 15, qPrintable(QString::number(told)));
      // And the Tab key comes by everything that can be pressed, and back to where it began.
      QSet<QWidget*> controls;
      for (QWidget* x : w.get().findChildren<QWidget*>()) {
        const bool control = qobject_cast<QAbstractButton*>(x) || qobject_cast<QComboBox*>(x) ||
                             qobject_cast<QAbstractSpinBox*>(x) || qobject_cast<QAbstractSlider*>(x);
        if (control && x->isVisible() && x->isEnabled() && x->focusPolicy() & Qt::TabFocus) controls.insert(x);
      }
      w.canvas().setFocus();
      QSet<QWidget*> met;
      for (int i = 0; i < 400; ++i) {
        QTest::keyClick(QApplication::focusWidget() ? QApplication::focusWidget() : &w.get(), Qt::Key_Tab);
        QWidget* now = QApplication::focusWidget();
        if (now == &w.canvas() || (now && now->focusProxy() == &w.canvas())) break;
        met.insert(now);
      }
      for (QWidget* x : controls) {
        const bool radio = qobject_cast<QRadioButton*>(x);  // of a group, Tab takes one; the arrows go on from there
        QVERIFY2(radio || met.contains(x), qPrintable(QStringLiteral("%1: Tab does not come by %2 (%3)")
                                                          .arg(w->station(station).name(), x->accessibleName(),
                                                               QLatin1String(x->metaObject()->className()))));
      }
    }
  }
  void whatTheCameraWroteIsShown() {
    test::Window w;
    const QString path = small_.subject;
    const QTemporaryDir dir;
    const QString jpeg = dir.filePath(QStringLiteral("told.jpg"));
    QVERIFY(QImage(path).save(jpeg));
    test::must(
        image::writeMetadata(jpeg.toStdString(), {{}, {}, {}, 0, 0, 0, 0, 0, "Fox on paper", "R. Vell", "all rights", {}}));
    w.open({small_.ground, jpeg});
    w.goTo(test::kGather);
    w.choose(QStringLiteral("told"));
    w.openPage("about");
    QCOMPARE(w.find<QLabel>(QStringLiteral("Made by"))->text(), QStringLiteral("R. Vell"));
    QCOMPARE(w.find<QLabel>(QStringLiteral("Title"))->text(), QStringLiteral("Fox on paper"));
    // It is kept with the project, not looked up in a file that may be gone.
    w.workspace().document().flush();
    const auto again =
        test::must(store::ProjectFile::openToRead(w.workspace().document().path().toStdString(), test::memory(), test::here()));
    QCOMPARE(again.history.scene().layers[1]->picture()->about.rights, std::string("all rights"));
  }
  void aProjectThatCanOnlyBeReadOpensAsACopy() {
    const test::AsAnyone asAnyone;  // before the window: its threads are to be nobody special either
    test::Window w;
    const QTemporaryDir dir;
    const QString shelf = dir.filePath(QStringLiteral("shelf")), path = shelf + QStringLiteral("/kept.hseam");
    QVERIFY(QDir().mkpath(shelf));
    begin(w);
    w.workspace().document().flush();
    w.workspace().saveCopy(path);
    w.workspace().document().flush();
    w.settle();
    QFile::setPermissions(path, QFile::ReadOwner);
    QFile::setPermissions(shelf, QFile::ReadOwner | QFile::ExeOwner);
    QVERIFY(!QFile(path).open(QIODevice::ReadWrite));
    w.open({path});
    QVERIFY(w.workspace().isUntitled());
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(w.desk().session.apply(scene::SetOpacity{w.scene().layers[1]->id, 0.5}));
    w.workspace().document().flush();
    w.settle();
    QVERIFY(w.workspace().document().allKept());
    QFile::setPermissions(shelf, QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
  }
  void aPenPaintsByPressureAndErasesWithItsOtherEnd() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kMatch);
    w.openPage("paint");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("40"));
    const auto place = placementOf(w, "subject");
    const auto pen = [&](QPointingDevice::PointerType end, double pressure, double x, double y) {
      static const QPointingDevice tip(QStringLiteral("pen"), 7, QInputDevice::DeviceType::Stylus,
                                       QPointingDevice::PointerType::Pen,
                                       QInputDevice::Capability::Position | QInputDevice::Capability::Pressure, 1, 2);
      static const QPointingDevice eraser(QStringLiteral("pen's end"), 8, QInputDevice::DeviceType::Stylus,
                                          QPointingDevice::PointerType::Eraser,
                                          QInputDevice::Capability::Position | QInputDevice::Capability::Pressure, 1, 2);
      const QPointF p = w.canvas().toWidget().map(QPointF(place.x + x, place.y + y));
      for (const auto type : {QEvent::TabletPress, QEvent::TabletMove, QEvent::TabletRelease}) {
        QTabletEvent e(type, end == QPointingDevice::PointerType::Eraser ? &eraser : &tip, p, w.canvas().mapToGlobal(p), pressure,
                       0, 0, 0, 0, 0, {}, Qt::LeftButton, type == QEvent::TabletRelease ? Qt::NoButton : Qt::LeftButton);
        QApplication::sendEvent(&w.canvas(), &e);
      }
      w.settle();
    };
    // The eraser end hides; half the pressure is half the size (radius 10 of 20 px).
    pen(QPointingDevice::PointerType::Eraser, 1, 100, 100);
    QCOMPARE(test::maskAt(layer(w, "subject"), 100, 100), 0);
    QVERIFY(test::maskAt(layer(w, "subject"), 114, 100) < 200);
    pen(QPointingDevice::PointerType::Eraser, 0.5, 250, 100);
    QCOMPARE(test::maskAt(layer(w, "subject"), 250, 100), 0);
    QCOMPARE(test::maskAt(layer(w, "subject"), 264, 100), 255);
    pen(QPointingDevice::PointerType::Pen, 1, 100, 100);
    QCOMPARE(test::maskAt(layer(w, "subject"), 100, 100), 255);
  }
};
HSEAM_TEST(MannersTest);
#include "manners_test.moc"
