#include <QComboBox>
#include <QFileDialog>
#include <QListWidget>
#include <QTimer>
#include <cmath>

#include "app/widgets/value_field.h"
#include "app/window.h"
#include "stage.h"

using namespace hseam;
using namespace hseam::test;

class FramesTest : public QObject {
  Q_OBJECT
  static const scene::PictureContent& picture(test::Window& w) { return *w.scene().layers[0]->picture(); }

 private slots:
  void initTestCase() { QApplication::setAttribute(Qt::AA_DontUseNativeDialogs); }
  // From bare files to an exported picture that holds the figure three times, by strokes alone.
  void threeFramesBecomeOnePicture() {
    const QTemporaryDir dir;
    const test::ShownPlace place(21, kStage);
    const QString a = written(dir, "a.png", shotOf(place, 110, {}, 0, 1)),
                  b = written(dir, "b.png", shotOf(place, 260, driftedBy(1.75, -1.25), 0.4, 2)),
                  c = written(dir, "c.png", shotOf(place, 410, driftedBy(-2.5, 0.5), -0.3, 3)),
                  other = written(dir, "elsewhere.png", test::ShownPlace(77, kStage).frame(kStage, {}, 4));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({a});
    w.goTo(test::kGather);
    w.openPage("frames");
    chooseFiles(w, QStringLiteral("Add frames…"), {b, c, other});
    QVERIFY(picture(w).frames);
    QCOMPARE(picture(w).frames->frames.size(), std::size_t(4));
    const auto* list = w.find<QListWidget>(QStringLiteral("Frames"));
    QVERIFY2(list->item(1)->text().contains(QStringLiteral("exact to 0.0")), qPrintable(list->item(1)->text()));
    QVERIFY(list->item(2)->checkState() == Qt::Checked);
    QVERIFY2(list->item(3)->checkState() == Qt::Unchecked && list->item(3)->text().contains(QStringLiteral("does not fit")),
             qPrintable(list->item(3)->text()));
    // Nothing is picked: the figure of the base alone.
    QVERIFY(isFigure(picture(w).source, 110, 220) && !isFigure(picture(w).source, 262, 219));

    w.openPage("picks");
    auto* from = w.find<QComboBox>(QStringLiteral("Frame that strokes take from"));
    QCOMPARE(from->count(), 3);  // the one that does not fit is not offered
    from->setCurrentIndex(1);
    w.drag(Qt::LeftButton, {{262, 190}, {262, 240}});
    from->setCurrentIndex(2);
    w.drag(Qt::LeftButton, {{408, 190}, {408, 240}});
    for (const int x : {110, 262, 408}) {
      QVERIFY2(isFigure(picture(w).source, x, 220) && isFigure(picture(w).source, x, 165) && isFigure(picture(w).source, x, 275),
               qPrintable(QString::number(x)));
    }
    // One step a stroke; what was drawn over is given free by the right button.
    w.desk().session.undo();
    w.settle();
    QVERIFY(isFigure(picture(w).source, 262, 220) && !isFigure(picture(w).source, 408, 220));
    w.desk().session.redo();
    w.settle();
    w.drag(Qt::RightButton, {{262, 185}, {262, 245}});
    QVERIFY(!isFigure(picture(w).source, 262, 220) && isFigure(picture(w).source, 408, 220));
    w.desk().session.undo();
    w.settle();

    // Left out and taken back by its tick.
    w.openPage("frames");
    w.find<QListWidget>(QStringLiteral("Frames"))->item(2)->setCheckState(Qt::Unchecked);
    w.settle();
    QVERIFY(!isFigure(picture(w).source, 408, 220));
    w.find<QListWidget>(QStringLiteral("Frames"))->item(2)->setCheckState(Qt::Checked);
    w.settle();
    QVERIFY(isFigure(picture(w).source, 408, 220));

    // It opens again as it was, and what is handed over shows all three.
    const QString project = dir.filePath(QStringLiteral("stage.hseam"));
    w.saveAs(project);
    w.workspace().newScene({50, 50});
    w.workspace().openProject(project);
    w.settle();
    QVERIFY(picture(w).frames && isFigure(picture(w).source, 262, 220));
    // Another base: the picks go along.
    w.goTo(test::kGather);
    w.openPage("frames");
    w.find<QListWidget>(QStringLiteral("Frames"))->setCurrentRow(1);
    w.click(QStringLiteral("Make it the base"));
    QCOMPARE(picture(w).frames->frames[0].name, std::string("b.png"));
    QVERIFY(isFigure(picture(w).source, 260, 220) && isFigure(picture(w).source, 406, 221));
    // Layers with masks show the same.
    w.click(QStringLiteral("Turn into layers"));
    QCOMPARE(w.scene().layers.size(), std::size_t(4));
    QVERIFY(w.scene().layers[0]->hidden && !w.scene().layers[2]->mask.coverage.isNull());
  }
  void lampsAreWeakenedAndColoured() {
    const QTemporaryDir dir;
    const test::ShownPlace place(31, kStage);
    // Each frame is the place in faint light, and a round lamp somewhere.
    const auto lit = [&](double cx, double strength) {
      return place.frame(kStage,
                         {.stops = 0,
                          .noise = 0.002,
                          .before =
                              [&place, cx, strength](double x, double y, int c) {
                                const double u = (x - cx) / 70, v = (y - 180) / 70;
                                return place.light(x, y, c) * (0.25 + strength * std::exp(-(u * u + v * v)));
                              }},
                         std::uint64_t(cx));
    };
    const QString dark = written(dir, "dark.png", lit(10, 0)), left = written(dir, "left.png", lit(120, 0.7)),
                  right = written(dir, "right.png", lit(400, 0.7));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({dark});
    w.goTo(test::kGather);
    w.openPage("frames");
    chooseFiles(w, QStringLiteral("Add frames…"), {left, right});
    auto* list = w.find<QListWidget>(QStringLiteral("Frames"));
    for (const int i : {1, 2}) {
      list->item(i)->setCheckState(Qt::Checked);
      w.settle();
    }
    w.openPage("lamps");
    auto* way = w.find<QComboBox>(QStringLiteral("What becomes of the frames"));
    way->setCurrentIndex(1);
    emit way->activated(1);
    w.settle();
    QVERIFY(picture(w).frames->way == scene::FrameSet::Way::lamps);
    QVERIFY(w.labelThatBegins(QStringLiteral("left.png lights left")));
    QVERIFY(w.labelThatBegins(QStringLiteral("right.png lights right")));
    // What neither of them lights is hatched on request.
    const auto seen = [&](int x, int y) {
      const QImage all = w.canvas().grab().toImage();
      const QPoint at = w.at(x, y);
      int changes = 0;
      for (int i = -12; i < 12; ++i)
        changes += std::abs(qGray(all.pixel(at.x() + i, at.y())) - qGray(all.pixel(at.x() + i + 1, at.y()))) > 60;
      return changes;
    };
    const int darkBefore = seen(260, 40), litBefore = seen(120, 180);
    w.find<QCheckBox>(QStringLiteral("hatch what none of them lights"))->click();
    w.settle();
    QVERIFY2(seen(260, 40) > darkBefore + 2, qPrintable(QStringLiteral("%1, before %2").arg(seen(260, 40)).arg(darkBefore)));
    QVERIFY(std::abs(seen(120, 180) - litBefore) <= 1);
    w.find<QCheckBox>(QStringLiteral("hatch what none of them lights"))->click();
    const auto meanAt = [&](int x) {
      const auto read = test::must(image::readFloat(picture(w).source, 0, {x - 15, 165, 30, 30}));
      double sum = 0;
      for (const float v : read.samples()) sum += v;
      return sum / double(read.samples().size());
    };
    const double bothLeft = meanAt(120), bothRight = meanAt(400);
    auto* strength = w.find<QDoubleSpinBox>(QStringLiteral("lamp 2"));
    w.type(strength, QStringLiteral("0"));
    QVERIFY2(meanAt(400) < bothRight - 0.1, qPrintable(QString::number(meanAt(400) - bothRight)));
    QVERIFY(std::abs(meanAt(120) - bothLeft) < 0.01);
    const auto redness = [&] {
      const auto px = test::must(image::readFloat(picture(w).source, 0, {120, 180, 1, 1}));
      return double(px.at(0, 0)[0]) / double(px.at(0, 0)[2]);
    };
    const double before = redness();
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("its warmth")), QStringLiteral("80"));
    QVERIFY2(redness() > before * 1.05, qPrintable(QString::number(redness() / before)));
    w.desk().session.undo();
    w.settle();
    QVERIFY(std::abs(redness() - before) < 1e-6);
  }
};
HSEAM_TEST(FramesTest);
#include "frames_test.moc"
