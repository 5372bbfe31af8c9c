// Weight against quality, in the real window.
#include <QListWidget>
#include <QSpinBox>
#include <random>

#include "app/stations/hand_over/weight_view.h"
#include "app/stations/hand_over/write_copy.h"
#include "app/window.h"
#include "test_main.h"

using namespace hseam;

class WeightTest : public QObject {
  Q_OBJECT
 private slots:
  void aWeightIsAskedForAndMet() {
    const QTemporaryDir shots;
    std::mt19937 random(4);
    const QString shot = shots.filePath(QStringLiteral("shot.png"));
    test::must(image::writeTiled(shot.toStdString(), test::picture(700, 500, 3, [&](int x, int y, int) {
                                   return x < 350 && y > 250 ? double(random() % 256) : 90 + 0.2 * x;
                                 })));
    test::Window w;
    w.open({shot});
    w.goTo(test::kHandOver);
    auto* copy = w->findChild<app::WriteCopy*>();
    w.openPage("weight");
    auto* view = w->findChild<app::WeightView*>();
    auto* list = w.find<QListWidget>(QStringLiteral("Qualities that were tried"));
    QVERIFY(!view->isVisible());
    w.click(QStringLiteral("Weigh it"));
    w.settle();
    QCOMPARE(list->count(), int(deliver::kUsualQualities.size()));
    QVERIFY2(view->isVisible(), "the curve is not shown");
    // A click beside a point chooses it, an arrow key the next.
    QTest::mouseClick(view, Qt::LeftButton, {}, view->placeOf(2).toPoint());
    QCOMPARE(list->currentRow(), 2);
    QTest::keyClick(view, Qt::Key_Right);
    QCOMPARE(list->currentRow(), 3);
    w.click(QStringLiteral("Take this quality"));
    QCOMPARE(copy->options().quality, deliver::kUsualQualities[3]);

    w.find<QSpinBox>(QStringLiteral("Heaviest"))->setValue(60);
    w.click(QStringLiteral("Find the best below it"));
    w.settle();
    const int found = copy->options().quality;
    const auto weighs = [&](int quality) {
      deliver::ExportOptions o = copy->options();
      o.quality = quality;
      return test::must(deliver::exportWeight(w.scene(), o, test::here(), {}));
    };
    QVERIFY(weighs(found) <= 60000);
    QVERIFY(weighs(found) > 58200 || weighs(found + 1) > 60000);
    QVERIFY(list->currentItem()->text().startsWith(QString::number(found)));

    // What no longer is what would be written is not shown.
    w.openPage("write");
    w.find<QSpinBox>(QStringLiteral("Long side"))->setValue(300);
    w.openPage("weight");
    QCOMPARE(list->count(), 0);
    QVERIFY(!view->isVisible());
    // Too little is told, and the quality stays.
    w.find<QSpinBox>(QStringLiteral("Heaviest"))->setValue(1);
    w.click(QStringLiteral("Find the best below it"));
    w.settle();
    QCOMPARE(copy->options().quality, found);
  }
};
HSEAM_TEST(WeightTest);
#include "weight_test.moc"
