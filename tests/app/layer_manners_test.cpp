// Several layers at once, locks, what is carried over, pasted, exchanged and replaced.

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

class LayerMannersTest : public test::TwoPictures {
  Q_OBJECT

  // The subject with an adjustment of a shelf whose one value is typed.
  static void adjusted(test::Window& w, const QString& shelf, const QString& name, const QString& value) {
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kMatch);
    w.openPage("add-adjustment");
    w.pick(shelf, name);
    w.type(w.find<QDoubleSpinBox>(name), value);
  }

 private slots:
  void init() { QSettings().clear(); }

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
    w.openPage("group");
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
    adjusted(w, QStringLiteral("Tones"), QStringLiteral("exposure"), QStringLiteral("-1.5"));
    w.choose(QStringLiteral("ground"));
    w.openPage("carry");
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
    adjusted(w, QStringLiteral("Colours"), QStringLiteral("saturation"), QStringLiteral("-100"));
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
};

HSEAM_TEST(LayerMannersTest);
#include "layer_manners_test.moc"
