#include <cmath>

#include <QCheckBox>

#include "app/window.h"
#include "test_main.h"

using namespace hseam;

class TakeOutTest : public QObject {
  Q_OBJECT
 private slots:
  void aThingGoesAndTheGroundGoesOn() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("wall.png"));
    const auto wall = [](int x, int y, int c) {
      return 120 + 25 * std::sin(y * 0.35) + 12 * std::sin(x * 0.22) + (x * 7 + y * 13) % 9 + c * 8;
    };
    test::must(image::writeTiled(file.toStdString(), test::picture(420, 320, 3, [&](int x, int y, int c) {
                                   return std::hypot(x - 210.0, y - 160.0) < 36 ? (c == 0 ? 235.0 : 25.0) : wall(x, y, c);
                                 })));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({file});
    w.goTo(test::kCutOut);
    w.openPage("take-out");
    QVERIFY(!w.find<QPushButton>(QStringLiteral("Fill from the surroundings"))->isEnabled());
    w.openPage("outline");
    w.find<QComboBox>(QStringLiteral("Kind of outline"))->setCurrentIndex(2);
    w.drag(Qt::LeftButton, {{172, 122}, {200, 150}, {248, 198}});
    w.openPage("take-out");
    const auto before = w.scene().layers[0];
    w.click(QStringLiteral("Fill from the surroundings"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(w.scene().layers[0] == before);  // the picture itself stays as it is
    const auto redAt = [&](int x, int y) {
      const auto read = test::must(image::read8(w.scene().layers[1]->picture()->source, 0, {x, y, 1, 1}));
      return int(read.at(0, 0)[0]) - int(read.at(0, 0)[1]);
    };
    for (const auto& [x, y] : {std::pair(210, 160), std::pair(190, 150), std::pair(230, 180)})
      QVERIFY(std::abs(redAt(x, y)) < 40);
    QCOMPARE(int(*test::must(image::read8(w.scene().layers[1]->mask.coverage, 0, {210, 160, 1, 1})).at(0, 0)), 255);
    QCOMPARE(int(*test::must(image::read8(w.scene().layers[1]->mask.coverage, 0, {20, 20, 1, 1})).at(0, 0)), 0);
    const auto now = [&] { return w.scene().layers[1]->picture()->source.stamp(); };
    const auto first = now();
    // A second one is offered beside it, and shown on a click.
    QVERIFY(w.find<QToolButton>(QStringLiteral("candidate 1"))->isChecked());
    w.click(QStringLiteral("candidate 2"));
    const auto second = now();
    QVERIFY(second != first && w.scene().layers.size() == 2);
    w.click(QStringLiteral("candidate 1"));
    QCOMPARE(now(), first);
    w.click(QStringLiteral("Another one"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(now() != first && now() != second);
    QVERIFY(w.find<QToolButton>(QStringLiteral("candidate 3"))->isChecked());
    w.desk().session.undo();
    QCOMPARE(now(), first);
    // Where it was copied from is drawn on request.
    w.settle();
    const QImage plain = w.canvas().grab().toImage();
    w.find<QCheckBox>(QStringLiteral("show where it was copied from"))->click();
    w.settle();
    const QImage threads = w.canvas().grab().toImage();
    QVERIFY(plain != threads);
    w.find<QCheckBox>(QStringLiteral("show where it was copied from"))->click();
    w.settle();
    QVERIFY(w.canvas().grab().toImage() == plain);
  }
  void aLineThatIsDrawnGoesOn() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("hose.png"));
    // A winding hose before leaves, and something before both.
    const auto hose = [](double x) { return 160 + 30 * std::sin(x / 19); };
    test::must(image::writeTiled(file.toStdString(), test::picture(420, 320, 3, [&](int x, int y, int c) {
                                   if (std::hypot(x - 210.0, y - 160.0) < 40) return c == 0 ? 235.0 : 25.0;
                                   return std::abs(y - hose(x)) < 6 ? 225.0 : 60.0 + (x * 7919 + y * 104729) % 61;
                                 })));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({file});
    w.goTo(test::kCutOut);
    w.openPage("outline");
    w.find<QComboBox>(QStringLiteral("Kind of outline"))->setCurrentIndex(2);
    w.drag(Qt::LeftButton, {{168, 118}, {200, 150}, {252, 202}});
    w.openPage("take-out");
    QList<QPointF> along;
    for (int x = 130; x <= 292; x += 3) along << QPointF(x, hose(x));
    w.drag(Qt::LeftButton, along);
    QVERIFY(w.find<QPushButton>(QStringLiteral("Forget the lines"))->isEnabled());
    w.click(QStringLiteral("Fill from the surroundings"));
    int light = 0, n = 0;
    for (int x = 176; x <= 244; x += 2, ++n) {
      const auto read = test::must(image::read8(w.scene().layers[1]->picture()->source, 0, {x, int(std::lround(hose(x))), 1, 1}));
      light += read.at(0, 0)[1] > 190;
    }
    QVERIFY2(light >= 0.85 * n, qPrintable(QStringLiteral("%1 of %2").arg(light).arg(n)));
  }
};
HSEAM_TEST(TakeOutTest);
#include "take_out_test.moc"
