#include <QComboBox>
#include <cmath>

#include "app/window.h"
#include "core/render/renderer.h"
#include "test_main.h"

using namespace hseam;

// A mark comes off cloth, and another one is laid on it, in the window.
class OnClothTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  static double fold(double x, double y) {
    return 1 + 0.35 * std::sin((x + 14 * std::sin(y / 50)) / 17) + 0.1 * std::sin(y / 23);
  }
  static double cloth(int x, int y, int c) {
    return (70 + 20 * c) * fold(x, y) + 3 * std::sin(x * 2 * M_PI / 5) * std::sin(y * 2 * M_PI / 5);
  }
  QString made(const QString& name, int w, int h, const std::function<double(int, int, int)>& at) {
    const QString file = dir_.filePath(name);
    test::must(image::writeTiled(file.toStdString(), test::picture(w, h, 3, at)));
    return file;
  }
  void begin(test::Window& w) {
    w.workspace().newScene({50, 50});
    w.open({made(QStringLiteral("cloth.png"), 480, 360, [](int x, int y, int c) {
      return std::hypot(x - 320.0, y - 180.0) < 22 ? (c == 0 ? 230 : 60) * fold(x, y) : cloth(x, y, c);
    })});
    w.goTo(test::kMatch);
  }
  static double at(test::Window& w, int x, int y, int c) {
    const auto s = test::must(render::Renderer().render(w.scene(), {x - 2, y - 2, 5, 5}, 0, test::here()));
    double sum = 0;
    for (std::size_t i = 0; i < 25; ++i) sum += 255 * double(s.samples()[i * 4 + std::size_t(c)]);
    return sum / 25;
  }

 private slots:
  void aMarkComesOff() {
    test::Window w;
    begin(w);
    w.openPage("mend");
    w.find<QComboBox>(QStringLiteral("What the brush does"))->setCurrentText(QStringLiteral("take a mark off cloth"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("60"));
    QVERIFY(at(w, 320, 180, 0) > 1.4 * at(w, 320, 180, 1));
    w.drag(Qt::LeftButton, {{318, 180}, {320, 180}, {322, 180}});
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    for (const int x : {306, 313, 320, 327, 334}) {
      const double off = at(w, x, 180, 1) / cloth(x, 180, 1);
      QVERIFY2(std::abs(off - 1) < 0.15, qPrintable(QStringLiteral("%1 at %2").arg(off).arg(x)));
      QVERIFY(at(w, x, 180, 0) < at(w, x, 180, 1));
    }
    w.desk().session.undo();
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
  }
  void aMarkIsLaidOnAndOnceMoreAfterItWasMoved() {
    test::Window w({1280, 800});
    begin(w);
    w.open({made(QStringLiteral("emblem.png"), 100, 80, [](int, int, int) { return 180.0; })});
    w.goTo(test::kMatch);
    w.openPage("lay-on-cloth");
    const auto* layer = w.desk().session.activeLayer();
    QCOMPARE(QString::fromStdString(layer->name), QStringLiteral("emblem"));
    const auto id = layer->id;
    const auto flat = test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
    // A page further down is unfolded to where it is seen, and so is what it says.
    const auto* button = w.find<QPushButton>(QStringLiteral("Lay it on"));
    QVERIFY(button && button->visibleRegion().boundingRect().height() == button->height());
    w.click(QStringLiteral("Lay it on"));
    w.settle();
    const auto& content = *scene::findLayer(w.scene(), id)->picture();
    QVERIFY(content.warp && !content.cutout->clean.isNull());
    const auto laid = test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
    double most = 0;
    for (std::size_t i = 0; i < laid.samples().size(); ++i)
      most = std::max(most, double(std::abs(laid.samples()[i] - flat.samples()[i])));
    QVERIFY2(most > 0.1, qPrintable(QString::number(most)));
    bool said = false;
    for (const QLabel* l : w->findChildren<QLabel*>())
      said |= !l->visibleRegion().isEmpty() && l->text().startsWith(QStringLiteral("It takes"));
    QVERIFY(said);
    auto moved = content.placement;
    moved.x += 40;
    w.desk().session.apply(scene::SetPlacement{id, moved});
    const auto before = content.cutout->clean.stamp();
    w.click(QStringLiteral("Lay it on"));
    w.settle();
    QVERIFY(scene::findLayer(w.scene(), id)->picture()->cutout->clean.stamp() != before);
    w.desk().session.undo();
    QCOMPARE(scene::findLayer(w.scene(), id)->picture()->cutout->clean.stamp(), before);
  }
};

HSEAM_TEST(OnClothTest);
#include "on_cloth_test.moc"
