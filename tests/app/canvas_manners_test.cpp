// The canvas cut to a frame, straightened and resized; guides, and words bent in a fan.

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
#include "app/window.h"
#include "as_anyone.h"
#include "core/image/transfer.h"
#include "core/store/open_raster.h"
#include "inks.h"

using namespace hseam;

class CanvasMannersTest : public test::TwoPictures {
  Q_OBJECT

 private slots:
  void init() { QSettings().clear(); }

  void theCanvasIsCutToADraggedFrame() {
    test::Window w;
    begin(w);
    const auto before = placementOf(w, "ground");
    w.goTo(test::kPlace);
    w.openPage("canvas");
    // The lower right corner of the frame comes in, then the upper left one goes out.
    w.drag(Qt::LeftButton, {{640, 480}, {600, 470}, {500, 400}});
    w.drag(Qt::LeftButton, {{0, 0}, {-10, -5}, {-30, -20}});
    w.click(QStringLiteral("Cut to the frame"));
    QVERIFY(std::abs(w.scene().canvas.width - 530) <= 2 && std::abs(w.scene().canvas.height - 420) <= 2);
    QVERIFY(std::abs(placementOf(w, "ground").x - (before.x + 30)) <= 1.5 && placementOf(w, "ground").scale == before.scale);
    w.click(QStringLiteral("Undo"));
    QCOMPARE(w.scene().canvas, base::Size({640, 480}));
  }
  void aFrameKeepsItsProportionsAndSwapsItsSides() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.openPage("canvas");
    auto* ratios = w.find<QComboBox>(QStringLiteral("Proportions of the frame"));
    ratios->setCurrentText(QStringLiteral("16 : 9"));
    emit ratios->activated(ratios->currentIndex());
    const auto px = [&](const char* name) { return w.find<QSpinBox>(QLatin1String(name))->value(); };
    // Of 640 × 480 what is too high goes, above and below alike.
    QVERIFY(px("Frame, width") == 640 && px("Frame, height") == 360 && px("Frame, from the top") == 60);
    w.drag(Qt::LeftButton, {{640, 420}, {500, 400}, {400, 300}});
    QVERIFY(std::abs(px("Frame, width") * 9.0 / 16 - px("Frame, height")) <= 1 && px("Frame, width") < 420 &&
            px("Frame, from the top") == 60);
    w.type(w.find<QSpinBox>(QStringLiteral("Frame, height")), QStringLiteral("90"));
    QCOMPARE(px("Frame, width"), 160);
    w.click(QStringLiteral("Swap sides"));
    QVERIFY(px("Frame, width") == 90 && px("Frame, height") == 160);
    w.click(QStringLiteral("Cut to the frame"));
    QCOMPARE(w.scene().canvas, base::Size({90, 160}));
  }
  void aLineAlongTheHorizonStraightens() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.openPage("canvas");
    w.click(QStringLiteral("draw a line that ought to be level"));
    w.drag(Qt::LeftButton, {{100, 200}, {300, 210}, {500, 200 + 400 * std::tan(3 * M_PI / 180)}});
    QVERIFY(std::abs(w.find<QDoubleSpinBox>(QStringLiteral("Turn of the whole scene"))->value() + 3) < 0.3);
    w.click(QStringLiteral("Straighten"));
    QVERIFY(std::abs(placementOf(w, "subject").rotationDeg + 3) < 0.3);
    QVERIFY(w.scene().canvas.width < 640);
  }
  void everythingIsResizedTogether() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.openPage("canvas");
    w.type(w.find<QSpinBox>(QStringLiteral("New width")), QStringLiteral("320"));
    w.click(QStringLiteral("Resize all"));
    QCOMPARE(w.scene().canvas, base::Size({320, 240}));
    QVERIFY(std::abs(placementOf(w, "ground").scale - 0.5) < 1e-6);
  }
  void guidesComeOutOfTheRulersAndCatchPictures() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    // Out of the left ruler to x = 200.
    const QPoint from(8, w.canvas().height() / 2), to(w.at(200, 0).x(), w.canvas().height() / 2);
    w.dragIn(&w.canvas(), Qt::LeftButton, {from, (from + to) / 2, to});
    QCOMPARE(w.scene().guides.size(), std::size_t(1));
    QVERIFY(w.scene().guides[0].vertical && std::abs(w.scene().guides[0].at - 200) <= 1);
    // The subject's left side comes near it and lies on it.
    w.choose(QStringLiteral("subject"));
    const double left = placementOf(w, "subject").x;
    w.drag(Qt::LeftButton, {{left + 200, 240}, {left + 240, 240}, {left + 200 + (200 - left) + 3, 240}});
    QVERIFY2(std::abs(placementOf(w, "subject").x - w.scene().guides[0].at) < 1.01,
             qPrintable(QString::number(placementOf(w, "subject").x)));
    // Typed, and away again by the button.
    w.openPage("guides");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("Upright guide, from the left")), QStringLiteral("123"));
    QCOMPARE(w.scene().guides[0].at, 123.0);
    w.click(QStringLiteral("Away"));
    QVERIFY(w.scene().guides.empty());
    // Back into the ruler takes one away too.
    w.click(QStringLiteral("Upright"));
    const QPoint line(w.at(w.scene().guides[0].at, 0).x(), 300);
    w.dragIn(&w.canvas(), Qt::LeftButton, {line, QPoint(100, 300), QPoint(6, 300)});
    QVERIFY(w.scene().guides.empty());
  }
  void aFanIsTypedDraggedAndCatchesTheCornersThatAreBent() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.openPage("guides");
    w.click(QStringLiteral("Fan"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("Fan, from the left")), QStringLiteral("500"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("Fan, from the top")), QStringLiteral("120"));
    QVERIFY((w.scene().guides.at(0).meets == base::Point{500, 120}));
    w.drag(Qt::LeftButton, {{500, 120}, {520, 110}, {540, 100}});
    QVERIFY(std::abs(w.scene().guides.at(0).meets->x - 540) < 2 && std::abs(w.scene().guides.at(0).meets->y - 100) < 2);
    const base::Point meets = *w.scene().guides.at(0).meets;
    w.choose(QStringLiteral("subject"));
    w.openPage("bend");
    const scene::Placement at = placementOf(w, "subject");
    const base::Size size = w.desk().session.activeLayer()->picture()->source.size();
    const base::Affine place = at.toScene(size);
    const base::Point left = place.map({0, 0}), right = place.map({double(size.width), 0});
    // The upper right corner is let go near the line from the upper left one to where the fan meets.
    const double share = (right.x - left.x) / (meets.x - left.x), y = left.y + share * (meets.y - left.y);
    w.drag(Qt::LeftButton, {{right.x, right.y}, {right.x, (right.y + y) / 2}, {right.x, y + 4}});
    const base::Point now = place.map(w.desk().session.activeLayer()->picture()->warp->corners.at(1));
    const double off = ((now.x - left.x) * (meets.y - left.y) - (now.y - left.y) * (meets.x - left.x)) /
                       std::hypot(meets.x - left.x, meets.y - left.y);
    QVERIFY2(std::abs(off) < 0.05 && std::abs(now.y - y) < 4, qPrintable(QStringLiteral("%1 %2").arg(off).arg(now.y - y)));
  }
};

HSEAM_TEST(CanvasMannersTest);
#include "canvas_manners_test.moc"
