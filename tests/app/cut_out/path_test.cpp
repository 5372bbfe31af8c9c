#include <QCheckBox>
#include <QComboBox>
#include <QLabel>

#include "app/stations/cut_out/cut_out.h"
#include "app/two_pictures.h"

using namespace hseam;

// A path drawn, bent, joined and kept by hand, in the real window.
class PathInTheWindowTest : public test::TwoPictures {
  Q_OBJECT

  static void clickAt(test::Window& w, double x, double y, Qt::MouseButton button = Qt::LeftButton) {
    QTest::mouseMove(&w.canvas(), w.at(x, y));
    QTest::mouseClick(&w.canvas(), button, {}, w.at(x, y));
    QTest::qWait(QApplication::doubleClickInterval() > 0 ? 1 : 0);
    w.settle();
  }
  static const path::Path& pathOf(test::Window& w) { return *w.desk().session.activeLayer()->mask.path; }

 private slots:
  void aPathIsDrawnBoundsTheMaskAndIsEditedAfterReopening() {
    QString file;
    const QTemporaryDir dir;
    {
      test::Window w;
      beginWith(w, test::kCutOut, "path");
      const base::Size size = w.desk().session.activeLayer()->picture()->source.size();
      const double l = size.width * 0.25, r = size.width * 0.75, t = size.height * 0.25, b = size.height * 0.75;
      clickAt(w, l, t);
      clickAt(w, r, t);
      clickAt(w, r, b);
      clickAt(w, l, b);
      clickAt(w, l + 30, b - 40);  // one too many: the right button takes it back
      clickAt(w, l, t, Qt::RightButton);
      clickAt(w, l, t);
      QCOMPARE(pathOf(w).outlines.size(), std::size_t(1));
      QVERIFY(pathOf(w).outlines[0].closed);
      QCOMPARE(pathOf(w).outlines[0].nodes.size(), std::size_t(4));
      QVERIFY(w.desk().session.activeLayer()->mask.coverage.isNull());  // it rests until it is told to act
      w.find<QCheckBox>(QStringLiteral("bounds the mask"))->click();
      w.settle();
      QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), size.width / 2, size.height / 2), 255);
      QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), int(l) - 8, size.height / 2), 0);
      // A corner is dragged outwards: the mask follows.
      w.drag(Qt::LeftButton, {QPointF(l, t), QPointF(l - 40, t - 30), QPointF(l - 60, t - 40)});
      QVERIFY(pathOf(w).outlines[0].nodes[0].at.x < l - 40);
      QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), int(l) - 30, int(t) - 15), 255);
      // The curve itself is pulled: its side bulges, its ends stay.
      w.drag(Qt::LeftButton, {QPointF(r, (t + b) / 2), QPointF(r + 20, (t + b) / 2), QPointF(r + 45, (t + b) / 2)});
      QCOMPARE(test::maskAt(*w.desk().session.activeLayer(), int(r) + 25, int((t + b) / 2)), 255);
      QVERIFY(std::abs(pathOf(w).outlines[0].nodes[1].at.x - r) < 2);
      // What is painted stays together with it: undo and redo go through every step.
      const int steps = w.desk().session.history().current();
      w.desk().session.undo();
      w.desk().session.redo();
      QCOMPARE(w.desk().session.history().current(), steps);
      file = dir.filePath(QStringLiteral("path.hseam"));
      w.saveAs(file);
    }
    test::Window w;
    w.open({file});
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kCutOut);
    w.openPage("path");
    const base::Size size = w.desk().session.activeLayer()->picture()->source.size();
    const QPointF corner(size.width * 0.75, size.height * 0.75);
    clickAt(w, corner.x(), corner.y());
    w.canvas().setFocus();
    for (int i = 0; i < 5; ++i) QTest::keyClick(&w.canvas(), Qt::Key_Right);
    w.settle();
    QVERIFY(pathOf(w).outlines[0].nodes[2].at.x > corner.x() + 3);
    w.click(QStringLiteral("Take out"));
    QCOMPARE(pathOf(w).outlines[0].nodes.size(), std::size_t(3));
    QVERIFY(w.desk().session.activeLayer()->mask.pathActs);
  }
  void aPathSnapsToThePicturesEdge() {
    test::Window w;
    beginWith(w, test::kCutOut, "path");
    // Beside the disc of 100 px round (200, 160).
    path::Outline o;
    o.closed = true;
    for (int i = 0; i < 4; ++i) {
      const double c = std::cos(i * M_PI / 2), s = std::sin(i * M_PI / 2), k = 0.5522847498 * 103;
      const base::Point at{201 + 103 * c, 159 + 103 * s};
      o.nodes.push_back({at, {at.x + s * k, at.y - c * k}, {at.x - s * k, at.y + c * k}, true});
    }
    w.desk().session.apply(
        scene::SetPath{w.desk().session.active(), std::make_shared<const path::Path>(path::Path{{o}}), false, "drawn"});
    w.type(w.find<QAbstractSpinBox>(QStringLiteral("within")), QStringLiteral("6"));
    w.click(QStringLiteral("Snap"));
    for (const auto& n : pathOf(w).outlines[0].nodes) {
      const double off = std::hypot(n.at.x - 200, n.at.y - 160) - 100;
      QVERIFY2(std::abs(off) < 0.8, qPrintable(QString::number(off)));
    }
    w.desk().session.undo();
    QCOMPARE(pathOf(w).outlines[0].nodes[0].at.x, 304.0);
  }
  void anOutlineFollowsTheEdgeBetweenPins() {
    test::Window w;
    beginWith(w, test::kCutOut, "path");
    w.openPage("outline");
    auto* kind = w.find<QComboBox>(QStringLiteral("Kind of outline"));
    kind->setCurrentIndex(kind->findText(QStringLiteral("along edges")));
    w.settle();
    const auto onEdge = [](double degrees, double off) {
      const double a = degrees * M_PI / 180;
      return QPointF(200 + (100 + off) * std::cos(a), 160 + (100 + off) * std::sin(a));
    };
    const auto clickOn = [&](QPointF p, Qt::MouseButton button = Qt::LeftButton) { clickAt(w, p.x(), p.y(), button); };
    clickOn(onEdge(0, 0));
    clickOn(onEdge(110, 2));
    clickOn(onEdge(150, 40));  // off the edge: taken back
    clickOn(onEdge(150, 40), Qt::RightButton);
    clickOn(onEdge(235, -2));
    QVERIFY(w.desk().session.activeLayer()->picture()->cutout->selection.isNull());
    clickOn(onEdge(0, 0));  // the first pin closes
    const auto& selection = w.desk().session.activeLayer()->picture()->cutout->selection;
    QVERIFY(!selection.isNull());
    // Straight sides between those pins would cut off up to 43 px of the disc.
    const auto s = test::must(image::read8(selection, 0, base::Rect::of(selection.size())));
    for (int degrees = 8; degrees < 360; degrees += 6) {
      const QPointF in = onEdge(degrees, -5), out = onEdge(degrees, 5);
      QVERIFY2(*s.at(int(in.x()), int(in.y())) == 255, qPrintable(QString::number(degrees)));
      QVERIFY2(*s.at(int(out.x()), int(out.y())) == 0, qPrintable(QString::number(degrees)));
    }
    w.desk().session.undo();
    QVERIFY(w.desk().session.activeLayer()->picture()->cutout->selection.isNull());
  }
  void coloursAreChosenByClicks() {
    test::Window w;
    beginWith(w, test::kCutOut, "path");
    w.openPage("colour");
    const auto selected = [&](int x, int y) {
      return int(
          *test::must(image::read8(w.desk().session.activeLayer()->picture()->cutout->selection, 0, {x, y, 1, 1})).at(0, 0));
    };
    // The paper is clicked, and not wanted: the disc remains.
    w.find<QCheckBox>(QStringLiteral("is not wanted"))->setChecked(true);
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(30, 30));
    w.settle();
    QCOMPARE(selected(200, 160), 255);
    QCOMPARE(selected(30, 300), 0);
    // With the disc's own colour too, nothing is left; undo brings the step before back.
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, Qt::ShiftModifier, w.at(200, 160));
    w.settle();
    QCOMPARE(selected(200, 160), 0);
    w.desk().session.undo();
    w.settle();
    QCOMPARE(selected(200, 160), 255);
    QCOMPARE(w.find<QLabel>(QStringLiteral("Colours pointed at"))->pixmap().width(), 44);
  }
  void aPathIsFittedToTheSelectionAndThinnedOut() {
    test::Window w;
    beginWith(w, test::kCutOut, "path");
    const base::Size size = w.desk().session.activeLayer()->picture()->source.size();
    const auto disc = test::must(image::withPixels(image::uniformCoverage(size, 0, w.desk().session.memory()), {60, 60, 120, 90},
                                                   image::Raster<std::uint8_t>(120, 90, 1, 255), w.desk().session.executor()));
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), disc, "a box"});
    w.click(QStringLiteral("Fit"));
    QCOMPARE(pathOf(w).outlines.size(), std::size_t(1));
    QCOMPARE(pathOf(w).outlines[0].nodes.size(), std::size_t(4));  // a box has four corners
    QVERIFY(w.find<QLabel>(QStringLiteral("Reading of the path"))->text().startsWith(QStringLiteral("4 points")));
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), {}, ""});
    w.click(QStringLiteral("As selection"));
    const auto back = w.desk().session.activeLayer()->picture()->cutout->selection;
    QCOMPARE(int(*test::must(image::read8(back, 0, {100, 100, 1, 1})).at(0, 0)), 255);
    QCOMPARE(int(*test::must(image::read8(back, 0, {40, 100, 1, 1})).at(0, 0)), 0);
    w.click(QStringLiteral("Drop"));
    QVERIFY(!w.desk().session.activeLayer()->mask.path);
  }
};
HSEAM_TEST(PathInTheWindowTest);
#include "path_test.moc"
