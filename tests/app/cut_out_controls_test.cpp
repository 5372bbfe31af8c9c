// Outlines, boxes, bands and grounds of Cut out.

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

class CutOutControlsTest : public QObject {
  Q_OBJECT
  test::SmallPictures pictures_;

 private slots:
  void outlinesMakeAndMendASelection() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.subject});
    w.goTo(test::kCutOut);
    w.openPage("outline");
    auto* kind = w.find<QComboBox>(QStringLiteral("Kind of outline"));
    auto* how = w.find<QComboBox>(QStringLiteral("What the outline does to the selection"));
    const auto selected = [&](int x, int y) {
      return int(*test::must(image::read8(w.desk().session.activeLayer()->picture()->cutout->selection, 0, {x, y, 1, 1}))
                      .at(0, 0)) > 127;
    };
    kind->setCurrentIndex(2);
    w.drag(Qt::LeftButton, {{50, 50}, {100, 100}, {300, 200}});
    QVERIFY(selected(200, 100) && !selected(350, 100));
    kind->setCurrentIndex(3);
    how->setCurrentIndex(2);  // takes away
    w.drag(Qt::LeftButton, {{150, 100}, {180, 140}, {250, 180}});
    QVERIFY(!selected(200, 140) && selected(60, 60));
    kind->setCurrentIndex(0);
    how->setCurrentIndex(1);  // adds
    w.drag(Qt::LeftButton, {{180, 120}, {220, 120}, {220, 160}, {180, 160}});
    QVERIFY(selected(200, 140));
    kind->setCurrentIndex(1);
    how->setCurrentIndex(3);  // keeps the overlap
    for (const QPointF& p : {QPointF(40, 40), QPointF(120, 40), QPointF(120, 220)})
      QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(p.x(), p.y()));
    QTest::mouseDClick(&w.canvas(), Qt::LeftButton, {}, w.at(40, 220));
    w.settle();
    QVERIFY(selected(60, 60) && !selected(200, 140));
    w.click(QStringLiteral("Invert"));
    QVERIFY(!selected(60, 60) && selected(200, 140));
    w.click(QStringLiteral("Invert"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("reshape by")), QStringLiteral("10"));
    w.click(QStringLiteral("Wider"));
    QVERIFY(selected(125, 120));
    w.click(QStringLiteral("Tighter"));
    w.click(QStringLiteral("Softer"));
    const int edge = int(
        *test::must(image::read8(w.desk().session.activeLayer()->picture()->cutout->selection, 0, {120, 120, 1, 1})).at(0, 0));
    QVERIFY(edge > 40 && edge < 215);
    w.click(QStringLiteral("As mask"));
    QCOMPARE(w.desk().session.activeLayer()->mask.coverage.stamp(),
             w.desk().session.activeLayer()->picture()->cutout->selection.stamp());
    w.click(QStringLiteral("Nothing"));
    QVERIFY(w.desk().session.activeLayer()->picture()->cutout->selection.isNull());
  }
  void aBoxKeepsTheGuessInside() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.subject});
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("a box"));
    w.drag(Qt::LeftButton, {{90, 50}, {150, 100}, {310, 270}});
    const auto& s = w.desk().session.activeLayer()->picture()->cutout->selection;
    QVERIFY(!s.isNull());
    QVERIFY(*test::must(image::read8(s, 0, {200, 160, 1, 1})).at(0, 0) > 200);
    QVERIFY(*test::must(image::read8(s, 0, {20, 20, 1, 1})).at(0, 0) < 50);
  }
  void theBandThinsBackToWhatTheSelectionSays() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.subject});
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("Guess"));
    w.openPage("band");
    w.click(QStringLiteral("Lay the band along the selection"));
    const auto band = [&](int x, int y) {
      return int(*test::must(image::read8(w.desk().session.activeLayer()->picture()->cutout->band, 0, {x, y, 1, 1})).at(0, 0));
    };
    QCOMPARE(band(200, 60), 128);
    w.drag(Qt::RightButton, {{200, 45}, {200, 50}, {200, 75}});
    QCOMPARE(band(200, 52), 0);
    QCOMPARE(band(200, 70), 255);
    QCOMPARE(band(100, 160), 128);
  }
  void groundsAreSeenAndNeverPartOfThePicture() {
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({pictures_.subject});
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("Guess"));
    w.openPage("solve");
    w.click(QStringLiteral("Solve"));
    const QRgb automatic = shownAt(w, 20, 20);
    QVERIFY(!grey(automatic));  // far from paper white and from the red disc
    w.openPage("ground");
    auto* ground = w.find<QComboBox>(QStringLiteral("Ground behind the cut"));
    const auto choose = [&](int i) {
      ground->setCurrentIndex(i);
      emit ground->activated(i);
      w.settle();
    };
    choose(3);
    QCOMPARE(shownAt(w, 20, 20), qRgb(0, 0, 0));
    choose(4);
    QCOMPARE(shownAt(w, 20, 20), qRgb(255, 255, 255));
    choose(6);
    QVERIFY(grey(shownAt(w, 20, 20)));
    w.click(QStringLiteral("faint ghost of the uncut picture"));
    QVERIFY(qRed(shownAt(w, 20, 20)) > 130);  // the paper shimmers through
    QVERIFY(w.desk().session.activeLayer()->picture()->source.stamp() != 0);
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
  }
};

HSEAM_TEST(CutOutControlsTest);
#include "cut_out_controls_test.moc"
