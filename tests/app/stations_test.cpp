// Each station's controls: what they do shows in the scene and can be taken back.

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLocale>
#include <QMimeData>
#include <QRadioButton>
#include <QWheelEvent>

#include "app/shown_at.h"
#include "app/stations/hand_over/hand_over.h"
#include "app/widgets/level_lines.h"
#include "app/widgets/tint_plane.h"

using namespace hseam;

using test::grey;
using test::shownAt;

class StationsTest : public QObject {
  Q_OBJECT
  test::SmallPictures pictures_;

  // Of the levels that are open: the middle line goes left by 5 L* so many times.
  static void lightenTheMiddle(test::Window& w, int times) {
    auto* lines = w.find<app::LevelLines>(QStringLiteral("Darkest, middle and lightest tone"));
    lines->setFocus();
    QTest::keyClick(lines, Qt::Key_Space);
    for (int i = 0; i < times; ++i) QTest::keyClick(lines, Qt::Key_Left, Qt::ShiftModifier);
    w.settle();
  }

 private slots:
  void droppedFilesBecomeLayers() {
    test::Window w;
    w.workspace().newScene({50, 50});
    QMimeData mime;
    mime.setUrls({QUrl::fromLocalFile(pictures_.ground), QUrl::fromLocalFile(pictures_.subject)});
    QDragEnterEvent enter(QPoint(100, 100), Qt::CopyAction, &mime, Qt::LeftButton, {});
    QApplication::sendEvent(&w.canvas(), &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop(QPointF(100, 100), Qt::CopyAction, &mime, Qt::LeftButton, {});
    QApplication::sendEvent(&w.canvas(), &drop);
    w.settle();
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QCOMPARE(w.scene().canvas, base::Size({640, 480}));
    // The source files lie in the project byte for byte.
    w.workspace().document().flush();
    const auto project =
        test::must(store::ProjectFile::openToRead(w.workspace().document().path().toStdString(), test::memory(), test::here()));
    QFile f(pictures_.subject);
    QVERIFY(f.open(QIODevice::ReadOnly));
    const auto kept = test::must(project.file->sourceFile(w.scene().layers[1]->picture()->sourceHash));
    QCOMPARE(QByteArray(reinterpret_cast<const char*>(kept.data()), qsizetype(kept.size())), f.readAll());
  }
  void everyEditCanBeTakenBackAndDoneAgain() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    const int before = w.desk().session.history().current();
    w.goTo(test::kPlace);
    w.click(QStringLiteral("Flip sideways"));
    QVERIFY(w.desk().session.activeLayer()->picture()->placement.flipX);
    QTest::keyClick(&w.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!w.desk().session.activeLayer()->picture()->placement.flipX);
    QCOMPARE(w.desk().session.history().current(), before);
    QTest::keyClick(&w.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(w.desk().session.activeLayer()->picture()->placement.flipX);
    w.click(QStringLiteral("Undo"));
    QVERIFY(!w.desk().session.activeLayer()->picture()->placement.flipX);
  }
  void theSheetOrdersHidesCopiesAndGhosts() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    const QRgb plain = shownAt(w, 320, 240);
    w.click(QStringLiteral("ghost"));
    const QRgb ghosted = shownAt(w, 320, 240);
    QVERIFY(ghosted != plain);
    QCOMPARE(w.desk().session.activeLayer()->opacity, 1.0);  // only seen, never part of the scene
    w.click(QStringLiteral("ghost"));
    QCOMPARE(shownAt(w, 320, 240), plain);
    w.click(QStringLiteral("folded"));
    QVERIFY(w.desk().session.activeLayer()->hidden && shownAt(w, 320, 240) != plain);
    w.click(QStringLiteral("folded"));
    w.click(QStringLiteral("Back"));
    QCOMPARE(QString::fromStdString(w.scene().layers[0]->name), QStringLiteral("subject"));
    QTest::keyClick(&w.get(), Qt::Key_Up, Qt::ControlModifier);
    QCOMPARE(QString::fromStdString(w.scene().layers[1]->name), QStringLiteral("subject"));
    w.click(QStringLiteral("Copy"));
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
    QCOMPARE(QString::fromStdString(w.desk().session.activeLayer()->name), QStringLiteral("subject copy"));
    w.click(QStringLiteral("Out"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QTest::keyClick(&w.get(), Qt::Key_Down, Qt::AltModifier);
    QCOMPARE(QString::fromStdString(w.desk().session.activeLayer()->name), QStringLiteral("ground"));
  }
  void masksAreFilledInvertedSoftenedAndSwitchedOff() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    w.goTo(test::kCutOut);
    w.openPage("paint");
    const auto mask = [&](int x, int y) { return test::maskAt(*w.desk().session.activeLayer(), x, y); };
    w.click(QStringLiteral("Empty it"));
    QCOMPARE(mask(200, 160), 0);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("60"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("hardness")), QStringLiteral("100"));
    // Shift joins clicks in a straight run.
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(60, 160));
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, Qt::ShiftModifier, w.at(340, 160));
    w.settle();
    for (int x = 60; x < 340; x += 10) QCOMPARE(mask(x, 160), 255);
    QCOMPARE(mask(200, 220), 0);
    w.click(QStringLiteral("Invert"));
    QCOMPARE(mask(200, 160), 0);
    w.click(QStringLiteral("Invert"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("soften by")), QStringLiteral("5"));
    w.click(QStringLiteral("Soften the mask's edge"));
    QVERIFY(mask(200, 190) > 60 && mask(200, 190) < 200);
    w.click(QStringLiteral("mask is on"));
    QVERIFY(!w.desk().session.activeLayer()->mask.enabled);
    w.click(QStringLiteral("mask is on"));
    w.click(QStringLiteral("see the mask alone"));
    QCOMPARE(shownAt(w, 200, 160), qRgb(255, 255, 255));
    QCOMPARE(shownAt(w, 200, 280), qRgb(0, 0, 0));
    w.click(QStringLiteral("Fill it"));
    QCOMPARE(mask(200, 280), 255);
  }
  void wheelAndPenSteerTheBrush() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.subject});
    w.goTo(test::kCutOut);
    w.openPage("paint");
    auto* size = w.find<QDoubleSpinBox>(QStringLiteral("size"));
    auto* hardness = w.find<QDoubleSpinBox>(QStringLiteral("hardness"));
    const double before = size->value(), hard = hardness->value(), zoom = w.canvas().zoom();
    const QPointF at = QPointF(w.at(200, 160));
    const auto wheel = [&](Qt::KeyboardModifiers keys) {
      QWheelEvent e(at, w.canvas().mapToGlobal(at), {}, QPoint(0, 120), Qt::NoButton, keys, Qt::NoScrollPhase, false);
      QApplication::sendEvent(&w.canvas(), &e);
    };
    wheel(Qt::AltModifier);
    QVERIFY(size->value() > before && w.canvas().zoom() == zoom);
    wheel(Qt::AltModifier | Qt::ShiftModifier);
    QVERIFY(hardness->value() > hard);
    wheel({});
    QVERIFY(w.canvas().zoom() > zoom);
    w.canvas().zoomToFit();
    // A pen at half pressure paints half as wide; its eraser end hides.
    w.type(size, QStringLiteral("80"));
    w.type(hardness, QStringLiteral("100"));
    w.click(QStringLiteral("Empty it"));
    const QPointingDevice pen(QStringLiteral("pen"), 7, QInputDevice::DeviceType::Stylus, QPointingDevice::PointerType::Pen,
                              QInputDevice::Capability::Pressure, 1, 2);
    const QPointingDevice eraser(QStringLiteral("pen"), 8, QInputDevice::DeviceType::Stylus, QPointingDevice::PointerType::Eraser,
                                 QInputDevice::Capability::Pressure, 1, 2);
    const auto tap = [&](const QPointingDevice& device, QPointF scene, double pressure) {
      const QPointF p = QPointF(w.at(scene.x(), scene.y()));
      QTabletEvent press(QEvent::TabletPress, &device, p, w.canvas().mapToGlobal(p), pressure, 0, 0, 0, 0, 0, {}, Qt::LeftButton,
                         Qt::LeftButton);
      QTabletEvent release(QEvent::TabletRelease, &device, p, w.canvas().mapToGlobal(p), 0, 0, 0, 0, 0, 0, {}, Qt::LeftButton,
                           Qt::NoButton);
      QApplication::sendEvent(&w.canvas(), &press);
      QApplication::sendEvent(&w.canvas(), &release);
      w.settle();
    };
    tap(pen, {200, 160}, 0.5);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 200, 160), 255);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 200 + 28, 160), 0);
    tap(eraser, {200, 160}, 1);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 200, 160), 0);
  }
  void quickDabsAllCount() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.subject});
    w.goTo(test::kCutOut);
    w.openPage("paint");
    w.click(QStringLiteral("Empty it"));
    const int before = w.desk().session.history().count();
    // The second of two quick clicks arrives as a double click.
    const auto send = [&](QEvent::Type type, QPointF scene) {
      const QPointF p = QPointF(w.at(scene.x(), scene.y()));
      QMouseEvent e(type, p, w.canvas().mapToGlobal(p), Qt::LeftButton,
                    type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, {});
      QApplication::sendEvent(&w.canvas(), &e);
    };
    send(QEvent::MouseButtonPress, {100, 100});
    send(QEvent::MouseButtonRelease, {100, 100});
    send(QEvent::MouseButtonDblClick, {300, 100});
    send(QEvent::MouseButtonRelease, {300, 100});
    w.settle();
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 100, 100), 255);
    QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), 300, 100), 255);
    QVERIFY(w.desk().session.history().count() >= before + 2);
  }
  void placingByHandlesNumbersAndArrows() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    w.goTo(test::kPlace);
    const auto placement = [&] { return w.desk().session.activeLayer()->picture()->placement; };
    const scene::Placement start = placement();
    w.drag(Qt::LeftButton, {{320, 240}, {330, 250}, {360, 270}});
    QVERIFY(std::abs(placement().x - start.x - 40) < 2 && std::abs(placement().y - start.y - 30) < 2);
    // A corner scales about the middle.
    const base::Affine m = placement().toScene({400, 320});
    const base::Point corner = m.map({400, 320}), centre = m.map({200, 160});
    const QPointF half((corner.x + centre.x) / 2, (corner.y + centre.y) / 2);
    w.drag(Qt::LeftButton, {{corner.x, corner.y}, {corner.x - 10, corner.y - 10}, half});
    QVERIFY2(std::abs(placement().scale - 0.5) < 0.02, qPrintable(QString::number(placement().scale)));
    const base::Point after = placement().toScene({400, 320}).map({200, 160});
    QVERIFY(std::hypot(after.x - centre.x, after.y - centre.y) < 0.01);
    w.canvas().setFocus();
    const double x = placement().x;
    QTest::keyClick(&w.canvas(), Qt::Key_Right);
    QTest::keyClick(&w.canvas(), Qt::Key_Right, Qt::ShiftModifier);
    w.settle();
    QCOMPARE(placement().x, x + 11);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("turn")), QStringLiteral("90"));
    QCOMPARE(placement().rotationDeg, 90.0);
    w.click(QStringLiteral("Flip over"));
    QVERIFY(placement().flipY);
    w.click(QStringLiteral("True size"));
    QVERIFY(placement().scale == 1 && placement().rotationDeg == 0);
    w.click(QStringLiteral("Cover all"));
    QVERIFY(placement().scale >= 1.49);
    w.click(QStringLiteral("Fit inside"));
    QVERIFY(std::abs(placement().scale - 1.5) < 0.01);
  }
  void adjustmentsShowWhileTheyAreShapedAndKeepOneStep() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    w.goTo(test::kMatch);
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Tones"), QStringLiteral("levels"));
    const int steps = w.desk().session.history().count();
    const QRgb before = shownAt(w, 320, 240);
    lightenTheMiddle(w, 1);
    QVERIFY(qRed(shownAt(w, 320, 240)) > qRed(before));
    QCOMPARE(w.desk().session.history().count(), steps + 1);
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Colours"), QStringLiteral("colour balance"));
    auto* plane = w.get().findChild<app::TintPlane*>();
    QVERIFY(plane && plane->isVisible());
    plane->setFocus();
    const QRgb neutral = shownAt(w, 320, 240);
    for (int i = 0; i < 10; ++i) QTest::keyClick(plane, Qt::Key_Right);
    w.settle();
    const auto& b = std::get<scene::ColourBalance>(w.desk().session.activeLayer()->adjustment()->adjustment);
    QVERIFY(b.shadows.x + b.midtones.x + b.highlights.x > 0);
    QVERIFY(qRed(shownAt(w, 320, 240)) > qRed(neutral));
  }
  void lookingOverChangesNothing() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    const int steps = w.desk().session.history().count();
    w.goTo(test::kLookOver);
    w.openPage("eyes");
    const QRgb plain = shownAt(w, 300, 240);
    QVERIFY(!grey(plain));
    w.click(QStringLiteral("in grey"));
    QVERIFY(grey(shownAt(w, 300, 240)));
    w.click(QStringLiteral("in hue"));
    const QRgb hue = shownAt(w, 300, 240);
    QVERIFY(qRed(hue) - qGreen(hue) > qRed(plain) - qGreen(plain));
    w.click(QStringLiteral("as it is"));
    // A disc's left half is light where the paper is: mirrored, what was at x is at the width less x of the widget.
    const QImage before = w.canvas().grab().toImage();
    w.click(QStringLiteral("mirrored"));
    const QImage after = w.canvas().grab().toImage();
    const QPoint p = QPoint(w.canvas().width() / 2 - 137, w.canvas().height() / 2 + 41);
    QVERIFY(before.pixel(p) != before.pixel(w.canvas().width() - p.x(), p.y()));
    QVERIFY(std::abs(qRed(after.pixel(w.canvas().width() - p.x(), p.y())) - qRed(before.pixel(p))) < 12);
    w.click(QStringLiteral("mirrored"));
    w.click(QStringLiteral("before and after, with a curtain"));
    QVERIFY(w.canvas().settled());
    QCOMPARE(w.desk().session.history().count(), steps);
  }
  void beforeIsTheScenesOwnPicturesWithoutTheWork() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground});
    w.goTo(test::kMatch);
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Tones"), QStringLiteral("levels"));
    lightenTheMiddle(w, 8);
    w.goTo(test::kLookOver);
    w.openPage("eyes");
    const QRgb right = shownAt(w, 500, 200);
    w.click(QStringLiteral("before and after, with a curtain"));
    QCOMPARE(shownAt(w, 500, 200), right);
    const QRgb left = shownAt(w, 120, 200);
    w.click(QStringLiteral("before and after, with a curtain"));
    QVERIFY(qRed(shownAt(w, 120, 200)) > qRed(left) + 20);
  }
  void handingOverWeighsAndWrites() {
    QTemporaryDir dir;
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.ground, pictures_.subject});
    w.goTo(test::kHandOver);
    auto* station = qobject_cast<app::HandOver*>(&w->station(test::kHandOver));
    w.type(w.find<QSpinBox>(QStringLiteral("Long side")), QStringLiteral("320"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("quality")), QStringLiteral("70"));
    auto* weight = w.find<QLabel>(QStringLiteral("Size and weight of the file"));
    QTRY_VERIFY_WITH_TIMEOUT(!weight->text().contains(QStringLiteral("weighing")), 20000);
    const QString path = dir.filePath(QStringLiteral("small.jpg"));
    station->write(path);
    w.settle();
    QVERIFY(QFileInfo::exists(path));
    QVERIFY2(weight->text().contains(QLocale().formattedDataSize(QFileInfo(path).size())), qPrintable(weight->text()));
    QCOMPARE(test::must(image::readPicture(path.toStdString(), test::memory(), test::here(), {})).pixels.size(),
             base::Size({320, 240}));
  }
};
HSEAM_TEST(StationsTest);
#include "stations_test.moc"
