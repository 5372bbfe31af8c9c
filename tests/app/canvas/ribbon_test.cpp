#include <QSignalSpy>
#include <numbers>

#include "app/ribbon/seam_ribbon.h"
#include "app/window.h"

using namespace hseam;

// The edge unrolled under the canvas, looked along by pointer and keys.
class RibbonTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;

  // The disc of the small subject as its mask: 100 px of radius round (200, 160).
  void begin(test::Window& w) {
    w.workspace().newScene({50, 50});
    w.open({small_.ground, small_.subject});
    const auto mask = test::picture(400, 320, 1, [](int x, int y, int) {
      return 255 * std::clamp((100 - std::hypot(x + 0.5 - 200, y + 0.5 - 160)) / 6 + 0.5, 0.0, 1.0);
    });
    w.desk().session.apply(scene::SetMask{w.desk().session.active(), mask, "a disc"});
    w.goTo(test::kCutOut);
    w.openPage("paint");
  }
  static QPoint column(test::Window& w, int x) { return {w->ribbon().width() - 12 - 300 + x, 30}; }

 private slots:
  void theEdgeIsUnrolledAndGoesToItsPlaces() {
    test::Window w;
    begin(w);
    app::SeamRibbon& ribbon = w->ribbon();
    QVERIFY(ribbon.isVisible());
    QVERIFY(std::abs(ribbon.places() - 2 * std::numbers::pi * 100) < 12);
    // Hovering marks the place: on the disc's edge.
    QTest::mouseMove(&ribbon, column(w, 150));
    const auto mark = ribbon.marked();
    QVERIFY(mark.has_value());
    QVERIFY(std::abs(std::hypot(mark->x() - 200, mark->y() - 160) - 100) < 1.5);
    // A click brings the canvas there, at 1:1 or closer.
    QTest::mouseClick(&ribbon, Qt::LeftButton, {}, column(w, 150));
    w.settle();
    QVERIFY(w.canvas().zoom() >= 1);
    const QPointF middle = w.canvas().toWidget().inverted().map(QPointF(w.canvas().width() / 2.0, w.canvas().height() / 2.0));
    QVERIFY(std::hypot(middle.x() - mark->x(), middle.y() - mark->y()) < 1.5);
  }
  void theStripFollowsTheBrush() {
    test::Window w;
    begin(w);
    app::SeamRibbon& ribbon = w->ribbon();
    const int before = ribbon.places();
    const QImage was = ribbon.grab().toImage();
    // A bite out of the disc makes its outline longer.
    w.drag(Qt::RightButton, {QPointF(295, 160), QPointF(270, 160), QPointF(250, 160)});
    QVERIFY2(ribbon.places() > before + 20, qPrintable(QStringLiteral("%1, before %2").arg(ribbon.places()).arg(before)));
    QVERIFY(ribbon.grab().toImage() != was);
    w.desk().session.undo();
    w.settle();
    QCOMPARE(ribbon.places(), before);
  }
  void keysMoveAlongAndTheReadingChanges() {
    test::Window w;
    begin(w);
    app::SeamRibbon& ribbon = w->ribbon();
    ribbon.setFocus();
    QSignalSpy places(&ribbon, &app::SeamRibbon::goTo);
    QTest::keyClick(&ribbon, Qt::Key_Right);
    const auto first = ribbon.marked();
    QTest::keyClick(&ribbon, Qt::Key_Right);
    const auto second = ribbon.marked();
    QVERIFY(first && second && std::hypot(second->x() - first->x(), second->y() - first->y()) > 30);
    QTest::keyClick(&ribbon, Qt::Key_Return);
    QCOMPARE(places.count(), 1);
    const QImage softness = ribbon.grab().toImage();
    QTest::keyClick(&ribbon, Qt::Key_Down);
    QVERIFY(ribbon.grab().toImage() != softness);
  }
  void itShowsTheSceneAndGoesToItsPlaces() {
    test::Window w;
    begin(w);
    app::SeamRibbon& ribbon = w->ribbon();
    ribbon.setFocus();
    const QImage overGround = ribbon.grab().toImage();
    QTest::keyClick(&ribbon, Qt::Key_S);
    w.settle();
    QVERIFY(ribbon.grab().toImage() != overGround);
    QTest::keyClick(&ribbon, Qt::Key_S);
    w.settle();
    QCOMPARE(ribbon.grab().toImage(), overGround);
    // In Look over it lies over the scene, and its places are the scene's, however the layer was placed.
    auto place = w.desk().session.activeLayer()->picture()->placement;
    place.x += 60, place.scale *= 0.5;
    w.desk().session.apply(scene::SetPlacement{w.desk().session.active(), place});
    w.goTo(test::kLookOver);
    QVERIFY(ribbon.isVisible() && ribbon.places() > 500);
    QTest::mouseMove(&ribbon, column(w, 100));
    QTest::mouseMove(&ribbon, column(w, 150));
    const auto mark = ribbon.marked();
    QVERIFY(mark.has_value());
    QTest::mouseClick(&ribbon, Qt::LeftButton, {}, column(w, 150));
    w.settle();
    const base::Point at = place.toScene({400, 320}).map({mark->x(), mark->y()});
    const QPointF middle = w.canvas().toWidget().inverted().map(QPointF(w.canvas().width() / 2.0, w.canvas().height() / 2.0));
    QVERIFY(std::hypot(middle.x() - at.x, middle.y() - at.y) < 1.5);
  }
  void draggingInTheStripPaints() {
    test::Window w;
    begin(w);
    app::SeamRibbon& ribbon = w->ribbon();
    const image::TiledImage before = w.desk().session.activeLayer()->mask.coverage;
    const QPoint from(ribbon.width() - 200, 20), to(ribbon.width() - 150, 20);
    QTest::mouseMove(&ribbon, from);
    const auto mark = ribbon.marked();
    QVERIFY(mark.has_value());
    w.dragIn(&ribbon, Qt::RightButton, {from, QPoint(from.x() + 20, 20), to});
    const base::Rect changed = image::differenceOf(before, w.desk().session.activeLayer()->mask.coverage);
    QVERIFY(!changed.empty());
    QVERIFY(changed.grown(60).contains(int(mark->x()), int(mark->y())));
    w.desk().session.undo();
    QCOMPARE(w.desk().session.activeLayer()->mask.coverage.stamp(), before.stamp());
  }
  void withoutAMaskItSaysSo() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({small_.ground, small_.subject});
    w.goTo(test::kCutOut);
    QVERIFY(!w->ribbon().isVisible());  // the selection is made on the uncut picture
    w.openPage("solve");
    QVERIFY(w->ribbon().isVisible());
    QCOMPARE(w->ribbon().places(), 0);
    w.goTo(test::kPlace);
    QVERIFY(!w->ribbon().isVisible());
  }
};
HSEAM_TEST(RibbonTest);
#include "ribbon_test.moc"
