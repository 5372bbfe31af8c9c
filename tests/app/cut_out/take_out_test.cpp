#include <cmath>

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
    w.unfold(QStringLiteral("Take it out of the picture"));
    QVERIFY(!w.find<QPushButton>(QStringLiteral("Fill from the surroundings"))->isEnabled());
    w.unfold(QStringLiteral("Draw round it"));
    w.find<QComboBox>(QStringLiteral("Kind of outline"))->setCurrentIndex(2);
    w.drag(Qt::LeftButton, {{172, 122}, {200, 150}, {248, 198}});
    w.unfold(QStringLiteral("Take it out of the picture"));
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
    const auto first = w.scene().layers[1]->picture()->source.stamp();
    w.click(QStringLiteral("Another one"));
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(w.scene().layers[1]->picture()->source.stamp() != first);
    w.desk().session.undo();
    QCOMPARE(w.scene().layers[1]->picture()->source.stamp(), first);
  }
};
HSEAM_TEST(TakeOutTest);
#include "take_out_test.moc"
