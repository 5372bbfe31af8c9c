#include <QComboBox>
#include <cmath>

#include "app/window.h"
#include "core/render/renderer.h"
#include "test_main.h"
#include "truth/shown_place.h"

using namespace hseam;

// A head of one shot takes the place of that of another one, drawn round by pointer.
class SwapInTheWindowTest : public QObject {
  Q_OBJECT

  static QString shot(const QTemporaryDir& dir, const QString& name, double dx, bool smiles) {
    const test::ShownPlace wall(3, {420, 320}), freckles(7, {420, 320});
    test::ShownPlace::Shot s;
    s.before = [=, &freckles](double x, double y, int c) {
      const double u = x - 200 - dx, v = y - 160;
      if (std::hypot(u, v) > 60) return -1.0;
      if (smiles && std::abs(v - 24) < 6 && std::abs(u) < 24) return c == 0 ? 0.8 : 0.05;
      return 0.15 + 0.55 * freckles.light(x - dx, y, c);
    };
    const QString file = dir.filePath(name);
    test::must(image::writeTiled(file.toStdString(), wall.frame({420, 320}, s, dx > 0 ? 5 : 6)));
    return file;
  }

 private slots:
  void aSmileIsTakenFromTheOtherShot() {
    const QTemporaryDir dir;
    test::Window w({1280, 800});
    w.workspace().newScene({50, 50});
    w.open({shot(dir, QStringLiteral("grave.png"), 0, false)});
    w.goTo(test::kCutOut);
    w.openPage("swap-part");
    const auto* swap = w.find<QPushButton>(QStringLiteral("Swap it"));
    QVERIFY(!swap->isEnabled());
    w.open({shot(dir, QStringLiteral("smiling.png"), 14, true)});
    w.choose(QStringLiteral("grave"));
    w.goTo(test::kCutOut);
    w.openPage("swap-part");
    QCOMPARE(w.find<QComboBox>(QStringLiteral("The picture that shows the part better"))->count(), 1);
    QVERIFY(!swap->isEnabled());  // nothing is drawn yet
    QList<QPointF> round;
    for (int k = 0; k <= 20; ++k) round << QPointF(200 + 46 * std::cos(k * 0.3), 165 + 44 * std::sin(k * 0.3));
    w.drag(Qt::LeftButton, round);
    QVERIFY(swap->isEnabled());
    w.click(QStringLiteral("Swap it"));
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
    w.desk().session.apply(scene::SetHidden{scene::LayerId{2}, true});
    const auto shown = test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
    QVERIFY2(shown.at(200, 184)[0] > 0.8f && shown.at(200, 184)[1] < 0.4f,
             qPrintable(QString::number(double(shown.at(200, 184)[0]))));
    // The mouth is as wide as it was, in the middle of the face.
    const auto red = [&](int x) { return shown.at(x, 184)[0] > 0.75f && shown.at(x, 184)[1] < 0.45f; };
    QVERIFY(red(179) && red(221) && !red(171) && !red(229));
    bool said = false;
    for (const QLabel* l : w->findChildren<QLabel*>())
      said |= !l->visibleRegion().isEmpty() && l->text().contains(QStringLiteral("Moved by 14"));
    QVERIFY(said);
  }
};

HSEAM_TEST(SwapInTheWindowTest);
#include "swap_in_the_window_test.moc"
