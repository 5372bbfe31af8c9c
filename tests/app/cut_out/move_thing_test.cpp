#include <QComboBox>
#include <cmath>

#include "app/window.h"
#include "core/render/renderer.h"
#include "test_main.h"

using namespace hseam;

// A thing is lifted off its picture with its shadow, and set down elsewhere in it.
class MoveThingTest : public QObject {
  Q_OBJECT

  static double planks(int x, int y, int c) { return 140 + 12 * std::sin(y * 2 * M_PI / 16) + (x * 7 + y * 13) % 9 + 8 * c; }
  static double shade(int x, int y) {
    return 1 - 0.4 / (1 + std::exp((std::hypot((x - 190.0) / 50, (y - 170.0) / 14) - 0.8) * 14));
  }
  static bool ball(int x, int y) { return std::hypot(x - 150.0, y - 150.0) < 24; }

 private slots:
  void thingAndShadowAreMovedTogether() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("deck.png"));
    test::must(image::writeTiled(file.toStdString(), test::picture(560, 320, 3, [&](int x, int y, int c) {
                                   return ball(x, y) ? (c == 0 ? 210.0 : 30.0) : planks(x, y, c) * shade(x, y);
                                 })));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({file});
    w.goTo(test::kCutOut);
    w.openPage("move-thing");
    QVERIFY(!w.find<QPushButton>(QStringLiteral("Lift it off"))->isEnabled());
    w.openPage("outline");
    w.find<QComboBox>(QStringLiteral("Kind of outline"))->setCurrentIndex(3);  // an ellipse
    w.drag(Qt::LeftButton, {{126, 126}, {150, 150}, {174, 174}});
    w.openPage("move-thing");
    w.drag(Qt::LeftButton, {{120, 170}, {160, 148}, {200, 146}, {250, 150}, {262, 172}, {240, 194}, {180, 196}, {130, 190}});
    w.click(QStringLiteral("Lift it off"));
    QCOMPARE(w.scene().layers.size(), std::size_t(4));  // the picture, its filled place, shadow, thing
    QCOMPARE(int(w.scene().layers[2]->mode), int(scene::BlendMode::multiply));
    QCOMPARE(w.desk().session.inHand().size(), std::size_t(2));
    const auto shown = [&] {
      return test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
    };
    const auto meanAt = [](const image::Raster<float>& r, int x0, int y0, int half, int c) {
      double sum = 0;
      for (int y = y0 - half; y <= y0 + half; ++y) {
        for (int x = x0 - half; x <= x0 + half; ++x) sum += 255 * double(r.at(x, y)[c]);
      }
      return sum / ((2 * half + 1) * (2 * half + 1));
    };
    // Where it was, nothing has changed for the eye.
    const auto lifted = shown();
    QVERIFY(meanAt(lifted, 150, 150, 8, 0) > 205 && std::abs(meanAt(lifted, 205, 170, 8, 1) - 148 * 0.62) < 8);
    // Both go 240 px to the right.
    w.goTo(test::kPlace);
    w.drag(Qt::LeftButton, {{150, 150}, {270, 150}, {390, 150}});
    const auto moved = shown();
    QVERIFY2(meanAt(moved, 390, 150, 8, 0) > 205, qPrintable(QString::number(meanAt(moved, 390, 150, 8, 0))));
    QVERIFY2(std::abs(meanAt(moved, 445, 170, 8, 1) - meanAt(lifted, 205, 170, 8, 1)) < 6,
             qPrintable(QStringLiteral("%1 %2").arg(meanAt(moved, 445, 170, 8, 1)).arg(meanAt(lifted, 205, 170, 8, 1))));
    // And the deck is bare and light where they were.
    QVERIFY2(std::abs(meanAt(moved, 150, 150, 15, 1) - 152) < 4, qPrintable(QString::number(meanAt(moved, 150, 150, 15, 1))));
    QVERIFY2(std::abs(meanAt(moved, 205, 170, 8, 1) - 152) < 5, qPrintable(QString::number(meanAt(moved, 205, 170, 8, 1))));
  }
  void thePictureOfACutShowsItsOwnColoursAgain() {
    const QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("deck.png"));
    test::must(image::writeTiled(file.toStdString(), test::picture(560, 320, 3, [&](int x, int y, int c) {
                                   return ball(x, y) ? (c == 0 ? 210.0 : 30.0) : planks(x, y, c);
                                 })));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({file});
    // A cut whose own colours are red far beyond the thing, as they may be over a wide band.
    const auto mask = test::picture(560, 320, 1, [](int x, int y, int) { return ball(x, y) ? 255.0 : 0.0; });
    const auto red = test::picture(560, 320, 3, [](int, int, int c) { return c == 0 ? 210.0 : 30.0; });
    QVERIFY(w.desk().session.apply(scene::SetCut{w.desk().session.active(), mask, red, mask, "{}"}));
    w.goTo(test::kCutOut);
    w.openPage("move-thing");
    w.click(QStringLiteral("Lift it off"));
    const auto s = test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
    QVERIFY2(std::abs(255 * double(s.at(400, 100)[1]) - planks(400, 100, 1)) < 2,
             qPrintable(QString::number(255 * double(s.at(400, 100)[1]))));
    QVERIFY(s.at(150, 150)[0] > 0.8f && s.at(150, 150)[1] < 0.2f);
    // The cut itself is only switched off.
    QVERIFY(!w.scene().layers[0]->mask.coverage.isNull() && !w.scene().layers[0]->mask.enabled);
  }
};
HSEAM_TEST(MoveThingTest);
#include "move_thing_test.moc"
