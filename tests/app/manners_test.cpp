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
#include "app/window.h"
#include "as_anyone.h"
#include "core/image/transfer.h"
#include "core/store/open_raster.h"
#include "inks.h"

using namespace hseam;

namespace hseam::test {

inline image::TiledImage disc400(const std::shared_ptr<image::TileMemory>& memory) {
  return must(image::withPixels(image::uniformCoverage({400, 320}, 0, memory), {100, 60, 200, 200},
                                image::Raster<std::uint8_t>(200, 200, 1, 255), here()));
}

}  // namespace hseam::test

// What belongs to the window rather than to the cut: canvas, guides, several layers, locks, keys, looks, the pen.
class MannersTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;
  void begin(test::Window& w) { w.open({small_.ground, small_.subject}); }
  static const scene::Layer& layer(test::Window& w, const char* name) {
    for (const auto& l : scene::allLayers(w.scene())) {
      if (l->name == name) return *scene::findLayer(w.scene(), l->id);
    }
    qFatal("no layer %s", name);
  }
  static const scene::Placement& placementOf(test::Window& w, const char* name) { return layer(w, name).picture()->placement; }

 private slots:
  void init() { QSettings().clear(); }

  void theCanvasIsCutToADraggedFrame() {
    test::Window w;
    begin(w);
    const auto before = placementOf(w, "ground");
    w.goTo(test::kPlace);
    w.unfold(QStringLiteral("Canvas"));
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
    w.unfold(QStringLiteral("Canvas"));
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
    w.unfold(QStringLiteral("Canvas"));
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
    w.unfold(QStringLiteral("Canvas"));
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
    w.unfold(QStringLiteral("Guides"));
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
    w.unfold(QStringLiteral("Guides"));
    w.click(QStringLiteral("Fan"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("Fan, from the left")), QStringLiteral("500"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("Fan, from the top")), QStringLiteral("120"));
    QVERIFY((w.scene().guides.at(0).meets == base::Point{500, 120}));
    w.drag(Qt::LeftButton, {{500, 120}, {520, 110}, {540, 100}});
    QVERIFY(std::abs(w.scene().guides.at(0).meets->x - 540) < 2 && std::abs(w.scene().guides.at(0).meets->y - 100) < 2);
    const base::Point meets = *w.scene().guides.at(0).meets;
    w.choose(QStringLiteral("subject"));
    w.unfold(QStringLiteral("Bend"));
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
  void severalLayersMoveHideGoAndGroupTogether() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.choose(QStringLiteral("subject"));
    QTest::keyClick(&w.get(), Qt::Key_Down, Qt::AltModifier | Qt::ShiftModifier);
    QCOMPARE(w.desk().session.inHand().size(), std::size_t(2));
    const auto a = placementOf(w, "subject"), b = placementOf(w, "ground");
    QTest::keyClick(&w.canvas(), Qt::Key_Right, Qt::ShiftModifier);
    w.settle();
    QVERIFY(placementOf(w, "subject").x == a.x + 10 && placementOf(w, "ground").x == b.x + 10);
    w.click(QStringLiteral("folded"));
    QVERIFY(layer(w, "subject").hidden && layer(w, "ground").hidden);
    w.click(QStringLiteral("Undo"));
    w.goTo(test::kMatch);
    w.unfold(QStringLiteral("Group"));
    w.desk().session.setActive(layer(w, "ground").id);
    QTest::keyClick(&w.get(), Qt::Key_Up, Qt::AltModifier | Qt::ShiftModifier);
    w.settle();
    w.click(QStringLiteral("Make a group"));
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
    QCOMPARE(w.scene().layers[0]->group()->layers.size(), std::size_t(2));
    // The group acts on what lies below it, and by itself again.
    w.click(QStringLiteral("by itself"));
    QVERIFY(!w.scene().layers[0]->group()->isolated);
  }
  void aLockedLayerStaysAsItIs() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.choose(QStringLiteral("subject"));
    w.click(QStringLiteral("locked"));
    const auto before = placementOf(w, "subject");
    w.drag(Qt::LeftButton, {{300, 240}, {320, 260}, {400, 300}});
    QVERIFY(placementOf(w, "subject") == before);
    bool told = false;
    for (auto* label : w->findChildren<QLabel*>())
      told = told || (label->isVisible() && label->text().contains(QStringLiteral("subject is locked")));
    QVERIFY(told);
    w.click(QStringLiteral("locked"));
    w.drag(Qt::LeftButton, {{300, 240}, {320, 260}, {400, 300}});
    QVERIFY(!(placementOf(w, "subject") == before));
  }
  void masksAndAdjustmentsAreCarriedOver() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kMatch);
    w.unfold(QStringLiteral("Add an adjustment"));
    w.pick(QStringLiteral("Tones"), QStringLiteral("exposure"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("exposure")), QStringLiteral("-1.5"));
    w.choose(QStringLiteral("ground"));
    w.unfold(QStringLiteral("Carry over"));
    auto* from = w.find<QComboBox>(QStringLiteral("Layer to take from"));
    from->setCurrentIndex(from->findText(QStringLiteral("from subject")));
    w.click(QStringLiteral("Its adjustments"));
    const scene::Layer& copy = layer(w, "exposure on ground");
    QVERIFY(copy.clip && std::get<scene::Exposure>(copy.adjustment()->adjustment).stops == -1.5);
    QCOMPARE(scene::positionOf(w.scene(), copy.id)->index, scene::positionOf(w.scene(), layer(w, "ground").id)->index + 1);
    // A mask painted on the subject comes to the ground at the same place of the scene.
    const scene::Layer& subject = layer(w, "subject");
    const auto mask = test::must(image::withPixels(image::uniformCoverage({400, 320}, 255, w.desk().session.memory()),
                                                   {100, 80, 50, 40}, image::Raster<std::uint8_t>(50, 40, 1, 0), test::here()));
    const auto place = subject.picture()->placement;
    w.desk().session.apply(scene::SetMask{subject.id, mask, "painted"});
    w.choose(QStringLiteral("ground"));
    w.click(QStringLiteral("Its mask"));
    QCOMPARE(test::maskAt(layer(w, "ground"), int(place.x) + 120, int(place.y) + 100), 0);
    QCOMPARE(test::maskAt(layer(w, "ground"), int(place.x) + 170, int(place.y) + 100), 255);
  }
  void saturationIsDraggedAndKept() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kMatch);
    w.unfold(QStringLiteral("Add an adjustment"));
    w.pick(QStringLiteral("Colours"), QStringLiteral("saturation"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("saturation")), QStringLiteral("-100"));
    const QImage shown = w.canvas().grab().toImage();
    const QColor c = shown.pixelColor(w.at(320, 240));
    QVERIFY(std::abs(c.red() - c.green()) <= 2 && std::abs(c.red() - c.blue()) <= 2);
  }
  void aPictureIsPasted() {
    test::Window w;
    begin(w);
    QImage image(70, 50, QImage::Format_ARGB32);
    image.fill(QColor(10, 200, 30, 128));
    QGuiApplication::clipboard()->setImage(image);
    QTest::keyClick(&w.get(), Qt::Key_V, Qt::ControlModifier);
    w.settle();
    const auto& pasted = *layer(w, "pasted").picture();
    QCOMPARE(pasted.source.size(), base::Size({70, 50}));
    const auto p = test::must(image::read8(pasted.source, 0, {9, 9, 1, 1}));
    QVERIFY(std::abs(p.at(0, 0)[1] - 200) <= 1 && p.at(0, 0)[3] == 128);
    QGuiApplication::clipboard()->clear();
    QTest::keyClick(&w.get(), Qt::Key_V, Qt::ControlModifier);
    w.settle();
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
  }
  void layersGoOutAndComeBackAsOpenRaster() {
    test::Window w;
    begin(w);
    w.goTo(test::kHandOver);
    w.find<QComboBox>(QStringLiteral("Kind of file"))->setCurrentIndex(5);
    const QString path = small_.dir.filePath(QStringLiteral("layers.ora"));
    qobject_cast<app::HandOver*>(&w->station(test::kHandOver))->write(path);
    w.settle();
    test::Window other;
    other.open({path});
    QCOMPARE(other.scene().layers.size(), std::size_t(2));
    QCOMPARE(other.scene().canvas, base::Size({640, 480}));
    // Into a scene with layers they come as one group.
    other.open({path});
    QCOMPARE(other.scene().layers.size(), std::size_t(3));
    QCOMPARE(other.scene().layers[2]->name, std::string("layers"));
  }
  void aPictureIsReplacedAndItsAdjustmentsStay() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("subject"));
    const auto mask = image::uniformCoverage({400, 320}, 100, w.desk().session.memory());
    w.desk().session.apply(scene::SetMask{w.desk().session.active(), mask, "painted"});
    w.workspace().replaceActive(small_.ground);
    w.settle();
    const scene::Layer& l = layer(w, "subject");
    QCOMPARE(l.picture()->sourceName, std::string("ground.png"));
    QCOMPARE(test::maskAt(l, 600, 400), 100);
    QVERIFY(std::abs(l.picture()->placement.scale * 640 - 400) < 0.5);
  }
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
    w.unfold(QStringLiteral("Side by side"));
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
    w.unfold(QStringLiteral("On paper"));
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
    w.unfold(QStringLiteral("About this picture"));
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
    w.unfold(QStringLiteral("Paint the mask"));
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
