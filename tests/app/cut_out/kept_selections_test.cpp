#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>

#include "app/window.h"

using namespace hseam;

// Selections kept by name, combined, moved without their pixels, and copied with them.
class KeptSelectionsTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;

  static image::TiledImage box(int l, int t, int r, int b) {
    return test::picture(400, 320, 1, [=](int x, int y, int) { return x >= l && x < r && y >= t && y < b ? 255.0 : 0.0; });
  }
  void begin(test::Window& w, const image::TiledImage& selection) {
    w.workspace().newScene({50, 50});
    w.open({small_.ground, small_.subject});
    w.goTo(test::kCutOut);
    w.desk().session.apply(scene::SetSelection{w.desk().session.active(), selection, "a box"});
    w.openPage("kept");
  }
  static int selected(test::Window& w, int x, int y) {
    return int(*test::must(image::read8(w.desk().session.activeLayer()->picture()->cutout->selection, 0, {x, y, 1, 1})).at(0, 0));
  }
  static void keepAs(test::Window& w, const QString& name) {
    w.find<QLineEdit>(QStringLiteral("Name to keep the selection under"))->setText(name);
    w.click(QStringLiteral("Keep"));
  }

 private slots:
  void keptCombinedNamedAndThereAgain() {
    QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("kept.hseam"));
    {
      test::Window w;
      begin(w, box(20, 20, 120, 120));
      keepAs(w, QStringLiteral("left"));
      w.desk().session.apply(scene::SetSelection{w.desk().session.active(), box(100, 20, 220, 120), "another box"});
      w.settle();
      auto* how = w.find<QComboBox>(QStringLiteral("What it does to the selection in hand"));
      how->setCurrentIndex(3);  // the overlap
      w.click(QStringLiteral("Take up"));
      QCOMPARE(selected(w, 110, 60), 255);
      QCOMPARE(selected(w, 150, 60), 0);
      QCOMPARE(selected(w, 60, 60), 0);
      keepAs(w, QStringLiteral("both"));
      auto* list = w.find<QListWidget>(QStringLiteral("Kept selections"));
      QCOMPARE(list->count(), 2);
      QVERIFY(!list->item(0)->icon().isNull());
      list->item(1)->setText(QStringLiteral("the overlap"));
      w.settle();
      QCOMPARE(w.desk().session.activeLayer()->picture()->cutout->saved[1].name, std::string("the overlap"));
      // The same name again takes the older one's place.
      keepAs(w, QStringLiteral("left"));
      QCOMPARE(w.desk().session.activeLayer()->picture()->cutout->saved.size(), std::size_t(2));
      w.desk().session.undo();
      w.settle();
      w.saveAs(file);
    }
    test::Window w;
    w.open({file});
    w.choose(QStringLiteral("subject"));
    w.goTo(test::kCutOut);
    w.openPage("kept");
    w.find<QComboBox>(QStringLiteral("What is taken up"))->setCurrentIndex(0);
    w.click(QStringLiteral("Take up"));
    QCOMPARE(selected(w, 60, 60), 255);
    QCOMPARE(selected(w, 150, 60), 0);
    w.find<QListWidget>(QStringLiteral("Kept selections"))->setCurrentRow(0);
    w.click(QStringLiteral("Drop"));
    QCOMPARE(w.desk().session.activeLayer()->picture()->cutout->saved.size(), std::size_t(1));
  }
  void movedScaledAndTurnedWithoutItsPixels() {
    test::Window w;
    begin(w, box(40, 40, 120, 80));
    const image::TiledImage source = w.desk().session.activeLayer()->picture()->source;
    w.drag(Qt::LeftButton, {QPointF(80, 60), QPointF(120, 90), QPointF(180, 160)});
    QCOMPARE(selected(w, 60, 60), 0);
    QCOMPARE(selected(w, 180, 160), 255);
    QVERIFY(selected(w, 145, 145) > 200 && selected(w, 136, 145) == 0);
    w.type(w.find<QAbstractSpinBox>(QStringLiteral("turn")), QStringLiteral("90"));
    w.click(QStringLiteral("Scale and turn"));
    QVERIFY(selected(w, 180, 125) > 200);  // 80 px high now
    QCOMPARE(selected(w, 215, 160), 0);
    QCOMPARE(w.desk().session.activeLayer()->picture()->source.stamp(), source.stamp());
    // Moved off the picture, what was outside comes in empty.
    w.drag(Qt::LeftButton, {QPointF(180, 160), QPointF(200, 160), QPointF(60, 20)});
    QCOMPARE(selected(w, 399, 319), 0);
  }
  void theChosenPartIsCopiedInPlace() {
    test::Window w;
    begin(w, box(150, 100, 250, 220));
    w.click(QStringLiteral("Copy to a layer"));
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
    const scene::Layer& copy = *w.desk().session.activeLayer();
    QCOMPARE(test::maskAt(copy, 200, 160), 255);
    QCOMPARE(test::maskAt(copy, 100, 160), 0);
    const auto& original = *w.scene().layers[1];
    QVERIFY(copy.picture()->placement == original.picture()->placement);
    QCOMPARE(copy.picture()->source.stamp(), original.picture()->source.stamp());
  }
};

HSEAM_TEST(KeptSelectionsTest);
#include "kept_selections_test.moc"
