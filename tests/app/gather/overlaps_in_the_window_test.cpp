// Who is in front, chosen by one click; and a frame moved on the base by hand.

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>

#include "app/widgets/value_field.h"
#include "stage.h"

using namespace hseam;
using namespace hseam::test;

class OverlapsInTheWindowTest : public QObject {
  Q_OBJECT
  static const scene::PictureContent& picture(Window& w) { return *w.scene().layers[0]->picture(); }
  static bool green(Window& w, int x, int y) {
    const auto px = must(image::read8(picture(w).source, 0, {x, y, 1, 1}));
    return int(px.at(0, 0)[1]) > 2 * int(px.at(0, 0)[0]);
  }

 private slots:
  void initTestCase() { QApplication::setAttribute(Qt::AA_DontUseNativeDialogs); }
  void oneClickPutsTheOtherInFront() {
    const QTemporaryDir dir;
    const ShownPlace place(21, kStage);
    const std::array<double, 3> greenish{0.05, 0.5, 0.06};
    const QStringList files{
        written(dir, "a.png", shotOf(place, 90, {}, 0, 1)), written(dir, "b.png", shotOf(place, 250, {}, 0, 2)),
        written(dir, "c.png", shotOf(place, 275, {}, 0, 3, greenish)), written(dir, "d.png", shotOf(place, 400, {}, 0, 4)),
        written(dir, "e.png", shotOf(place, 480, {}, 0, 5))};
    Window w;
    w.workspace().newScene({50, 50});
    w.open({files.front()});
    w.goTo(test::kGather);
    w.openPage("frames");
    chooseFiles(w, QStringLiteral("Add frames…"), files.mid(1));
    w.openPage("picks");
    auto* from = w.find<QComboBox>(QStringLiteral("Frame that strokes take from"));
    from->setCurrentIndex(1);
    w.drag(Qt::LeftButton, {{238, 190}, {238, 240}});
    from->setCurrentIndex(2);
    w.drag(Qt::LeftButton, {{290, 190}, {290, 240}});
    QTRY_VERIFY(w.labelThatBegins(QStringLiteral("In one place things of several frames meet")));
    // The key steps to it and the canvas looks there.
    QTest::keyClick(&w.get(), Qt::Key_J, Qt::ControlModifier);
    w.settle();
    QVERIFY(w.get().rect().contains(w.canvas().mapTo(&w.get(), w.at(262, 220))));
    // A seam between two strokes may run through the place: whoever shows more there is in front.
    QVERIFY(w.labelThatBegins(QStringLiteral("Here frame ")));
    const bool was = w.labelThatBegins(QStringLiteral("Here frame 3"));
    for (const bool wanted : {!was, was}) {
      w.click(wanted ? QStringLiteral("Put frame 3 in front") : QStringLiteral("Put frame 2 in front"));
      QCOMPARE(green(w, 262, 220), wanted);
      QTRY_VERIFY(w.labelThatBegins(QStringLiteral("In one place things of several frames meet")));
      QTest::keyClick(&w.get(), Qt::Key_J, Qt::ControlModifier);
      w.settle();
      QTRY_VERIFY(w.labelThatBegins(wanted ? QStringLiteral("Here frame 3") : QStringLiteral("Here frame 2")));
    }
    w.desk().session.undo();
    w.settle();
    QCOMPARE(green(w, 262, 220), !was);  // a step like any other
  }
  void aFrameIsLaidOverTheBaseAndMoved() {
    const QTemporaryDir dir;
    const ShownPlace place(21, kStage);
    const QString a = written(dir, "a.png", shotOf(place, 110, {}, 0, 1)),
                  b = written(dir, "b.png", shotOf(place, 260, {}, 0, 2));
    Window w;
    w.workspace().newScene({50, 50});
    w.open({a});
    w.goTo(test::kGather);
    w.openPage("frames");
    chooseFiles(w, QStringLiteral("Add frames…"), {b});
    const QImage plain = w.canvas().grab().toImage();
    w.find<QListWidget>(QStringLiteral("Frames"))->setCurrentRow(1);
    w.find<QCheckBox>(QStringLiteral("lay the chosen frame over the base"))->click();
    w.settle();
    QTRY_VERIFY(w.canvas().grab().toImage() != plain);
    // The figure stands in one of them alone: it is seen as colour, where the place itself is grey.
    const auto colourAt = [&](int x, int y) {
      const QColor c = w.canvas().grab().toImage().pixelColor(w.at(x, y));
      return std::abs(c.red() - c.blue());
    };
    QTRY_VERIFY(colourAt(260, 220) > 30);
    QVERIFY(colourAt(40, 60) < 20);
    const double before = picture(w).frames->frames[1].toBase[2];
    w.canvas().setFocus();
    QTest::keyClick(&w.canvas(), Qt::Key_Right);
    w.settle();
    QVERIFY(std::abs(picture(w).frames->frames[1].toBase[2] - before - 0.5) < 1e-9);
    w.drag(Qt::LeftButton, {{200, 200}, {206, 203}});
    w.settle();
    QVERIFY(std::abs(picture(w).frames->frames[1].toBase[2] - before - 6.5) < 1.5);
    w.desk().session.undo();
    w.desk().session.undo();
    w.settle();
    QCOMPARE(picture(w).frames->frames[1].toBase[2], before);
  }
};

HSEAM_TEST(OverlapsInTheWindowTest);
#include "overlaps_in_the_window_test.moc"
