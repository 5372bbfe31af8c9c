#include <QComboBox>
#include <QDoubleSpinBox>
#include <QPushButton>

#include "app/widgets/tone_colours.h"
#include "window.h"

using namespace hseam;

// Every adjustment of the shelves is added by hand, changed in the scene and undone.
class AdjustmentsTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;

  void begin(test::Window& w) {
    w.desk().newScene({50, 50});
    w.open({small_.ground, small_.subject});
    w.goTo(test::kMatch);
  }
  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.desk().document().shown(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }
  static bool differ(const image::Raster<float>& a, const image::Raster<float>& b) {
    return !std::equal(a.samples().begin(), a.samples().end(), b.samples().begin(),
                       [](float x, float y) { return std::abs(x - y) < 1e-3f; });
  }

 private slots:
  void everyOneOfTheTableChangesTheSceneAndIsUndone() {
    test::Window w;
    begin(w);
    const char* kShelves[] = {"Tones", "Colours", "Focus and grain", "Light and air"};
    for (const auto& kind : scene::adjustmentKinds()) {
      w.choose(QStringLiteral("subject"));
      w.unfold(QStringLiteral("Add an adjustment"));
      const auto before = shown(w);
      const int steps = w.desk().document().history().current();
      w.pick(QLatin1String(kShelves[int(kind.shelf)]), QLatin1String(kind.name));
      QVERIFY2(w.desk().active()->adjustment(), kind.key);
      QVERIFY(w.desk().active()->clip);
      // The first field that does something by itself, typed.
      bool changes = false;
      for (std::size_t i = 0; i < kind.fields.size() && !changes; ++i) {
        if (*kind.fields[i].section && i > 2) break;
        const auto& f = kind.fields[i];
        auto* field = w.find<QDoubleSpinBox>(QLatin1String(f.name));
        const double was = field->value();
        const double goal = f.high > f.initial ? f.high : f.low;
        w.type(field, QString::number(std::round(f.shownTimes * (f.initial + 0.6 * (goal - f.initial)))));
        QVERIFY2(field->value() != was, kind.key);
        changes = differ(shown(w), before);
      }
      QVERIFY2(changes, kind.key);
      while (w.desk().document().history().current() > steps) w.desk().document().undo();
      w.settle();
      QVERIFY2(!differ(shown(w), before), kind.key);
    }
  }
  // As the formula says, by the camera's angle of view that is set in Place.
  void theLensSaysHowFarOutOfFocus() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("ground"));
    scene::Floor f = scene::floorOf(w.scene());
    f.viewAngleDeg = 40;
    w.desk().apply(scene::SetFloor{f});
    w.unfold(QStringLiteral("Add an adjustment"));
    w.pick(QStringLiteral("Focus and grain"), QStringLiteral("out of focus"));
    for (const auto& [name, value] :
         {std::pair("focal length", "85"), {"f-number", "2"}, {"focused at", "2"}, {"this lies at", "10"}})
      w.type(w.find<QDoubleSpinBox>(QLatin1String(name)), QLatin1String(value));
    w.click(QStringLiteral("Use this radius"));
    const double focalPx = w.scene().canvas.width / 2.0 / std::tan(20 * M_PI / 180);
    const double disc = 0.085 * focalPx * 0.8 / (2 * (2 - 0.085));
    const auto& made = std::get<scene::ByNumbers>(w.desk().active()->adjustment()->adjustment);
    QVERIFY2(std::abs(made["radius"] - disc / 2) < 0.01, qPrintable(QStringLiteral("%1 %2").arg(made["radius"]).arg(disc / 2)));
    // Another adjustment has no lens.
    w.choose(QStringLiteral("ground"));
    w.unfold(QStringLiteral("Add an adjustment"));
    w.pick(QStringLiteral("Focus and grain"), QStringLiteral("grain"));
    for (const auto* b : w->findChildren<QPushButton*>())
      QVERIFY(b->text() != QStringLiteral("Use this radius") || !b->isVisible());
  }
  void aToneIsDraggedInThePicture() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("subject"));
    w.unfold(QStringLiteral("Add an adjustment"));
    w.pick(QStringLiteral("Tones"), QStringLiteral("curves"));
    const auto& c = w.scene().canvas;
    const double x = c.width / 2.0, y = c.height / 2.0;
    const auto before = shown(w);
    w.drag(Qt::LeftButton, {QPointF(x, y), QPointF(x, y - 20), QPointF(x, y - 60)});
    const auto after = shown(w);
    QVERIFY(after.at(int(x), int(y))[1] > before.at(int(x), int(y))[1] + 0.03f);
    const auto& curves = std::get<scene::Curves>(w.desk().active()->adjustment()->adjustment);
    QCOMPARE(curves.rgb.size(), std::size_t(3));
    w.desk().document().undo();
    w.settle();
    QVERIFY(!differ(shown(w), before));
    // By lightness, hue stays.
    w.find<QComboBox>(QStringLiteral("Channel of the curve"))->setCurrentIndex(4);
    w.drag(Qt::LeftButton, {QPointF(x, y), QPointF(x, y + 50)});
    QCOMPARE(std::get<scene::Curves>(w.desk().active()->adjustment()->adjustment).lightness.size(), std::size_t(3));
    QVERIFY(shown(w).at(int(x), int(y))[1] < before.at(int(x), int(y))[1] - 0.03f);
  }
  void coloursOfTonesAreAddedMovedAndTakenAway() {
    test::Window w;
    begin(w);
    w.choose(QStringLiteral("subject"));
    w.unfold(QStringLiteral("Add an adjustment"));
    w.pick(QStringLiteral("Colours"), QStringLiteral("tones to colours"));
    const auto stops = [&] { return std::get<scene::TonesToColours>(w.desk().active()->adjustment()->adjustment).stops; };
    auto* strip = w.find<app::ToneColours>(QStringLiteral("Colours of the tones"));
    w.dragIn(strip, Qt::LeftButton, {QPoint(strip->width() / 2, 20), QPoint(strip->width() / 2, 22)});
    QCOMPARE(stops().size(), std::size_t(3));
    QVERIFY(std::abs(stops()[1].at - 0.5) < 0.02);
    QTest::keyClick(strip, Qt::Key_Right);
    w.settle();
    QVERIFY(stops()[1].at > 0.5);
    w.dragIn(strip, Qt::LeftButton,
             {QPoint(strip->width() / 2 + 2, strip->height() - 22), QPoint(strip->width() / 2, strip->height() + 30)});
    QCOMPARE(stops().size(), std::size_t(2));
  }
};

HSEAM_TEST(AdjustmentsTest);
#include "adjustments_test.moc"
