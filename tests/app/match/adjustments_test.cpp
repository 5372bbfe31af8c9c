#include <QComboBox>
#include <QDoubleSpinBox>
#include <QPushButton>
#include <QRadioButton>

#include "app/two_pictures.h"
#include "app/widgets/curve_editor.h"
#include "app/widgets/hue_ring.h"
#include "app/widgets/level_lines.h"
#include "app/widgets/tone_colours.h"
#include "core/image/transfer.h"

using namespace hseam;

// Every adjustment of the shelves is added by hand, changed in the scene and undone.
class AdjustmentsTest : public test::TwoPictures {
  Q_OBJECT

  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.desk().session.shown(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }
  static bool differ(const image::Raster<float>& a, const image::Raster<float>& b) {
    return !std::equal(a.samples().begin(), a.samples().end(), b.samples().begin(),
                       [](float x, float y) { return std::abs(x - y) < 1e-3f; });
  }

 private slots:
  void everyOneOfTheTableChangesTheSceneAndIsUndone() {
    test::Window w;
    beginWith(w, test::kMatch);
    const char* kShelves[] = {"Tones", "Colours", "Focus and grain", "Light and air"};
    for (const auto& kind : scene::adjustmentKinds()) {
      w.choose(QStringLiteral("subject"));
      w.openPage("add-adjustment");
      const auto before = shown(w);
      const int steps = w.desk().session.history().current();
      w.pick(QLatin1String(kShelves[int(kind.shelf)]), QLatin1String(kind.name));
      QVERIFY2(w.desk().session.activeLayer()->adjustment(), kind.key);
      QVERIFY(w.desk().session.activeLayer()->clip);
      // The first field that does something by itself, typed.
      bool changes = false;
      for (std::size_t i = 0; i < kind.fields.size() && !changes; ++i) {
        if (*kind.fields[i].section && i > 2) break;
        const auto& f = kind.fields[i];
        if (f.hue >= 0) {
          // On the ring of hues: the tack in hand.
          QTest::keyClick(w.find<app::HueRing>(QStringLiteral("%1 of the hues").arg(QLatin1String(f.amount))), Qt::Key_Up,
                          Qt::ShiftModifier);
          w.settle();
          changes = differ(shown(w), before);
          continue;
        }
        auto* field = w.find<QDoubleSpinBox>(QLatin1String(f.name));
        const double was = field->value();
        const double goal = f.high > f.initial ? f.high : f.low;
        w.type(field, QString::number(std::round(f.shownTimes * (f.initial + 0.6 * (goal - f.initial)))));
        QVERIFY2(field->value() != was, kind.key);
        changes = differ(shown(w), before);
      }
      QVERIFY2(changes, kind.key);
      while (w.desk().session.history().current() > steps) w.desk().session.undo();
      w.settle();
      QVERIFY2(!differ(shown(w), before), kind.key);
    }
  }
  // As the formula says, by the camera's angle of view that is set in Place.
  void theLensSaysHowFarOutOfFocus() {
    test::Window w;
    beginWith(w, test::kMatch);
    w.choose(QStringLiteral("ground"));
    scene::Floor f = scene::floorOf(w.scene());
    f.viewAngleDeg = 40;
    w.desk().session.apply(scene::SetFloor{f});
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Focus and grain"), QStringLiteral("out of focus"));
    for (const auto& [name, value] :
         {std::pair("focal length", "85"), {"f-number", "2"}, {"focused at", "2"}, {"this lies at", "10"}})
      w.type(w.find<QDoubleSpinBox>(QLatin1String(name)), QLatin1String(value));
    w.click(QStringLiteral("Use this radius"));
    const double focalPx = w.scene().canvas.width / 2.0 / std::tan(20 * M_PI / 180);
    const double disc = 0.085 * focalPx * 0.8 / (2 * (2 - 0.085));
    const auto& made = std::get<scene::ParametricAdjustment>(w.desk().session.activeLayer()->adjustment()->adjustment);
    QVERIFY2(std::abs(made["radius"] - disc / 2) < 0.01, qPrintable(QStringLiteral("%1 %2").arg(made["radius"]).arg(disc / 2)));
    // Another adjustment has no lens.
    w.choose(QStringLiteral("ground"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Focus and grain"), QStringLiteral("grain"));
    for (const auto* b : w->findChildren<QPushButton*>())
      QVERIFY(b->text() != QStringLiteral("Use this radius") || !b->isVisible());
  }
  void aToneIsDraggedInThePicture() {
    test::Window w;
    beginWith(w, test::kMatch);
    w.choose(QStringLiteral("subject"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Tones"), QStringLiteral("curves"));
    const auto& c = w.scene().canvas;
    const double x = c.width / 2.0, y = c.height / 2.0;
    const auto before = shown(w);
    w.drag(Qt::LeftButton, {QPointF(x, y), QPointF(x, y - 20), QPointF(x, y - 60)});
    const auto after = shown(w);
    QVERIFY(after.at(int(x), int(y))[1] > before.at(int(x), int(y))[1] + 0.03f);
    const auto& curves = std::get<scene::Curves>(w.desk().session.activeLayer()->adjustment()->adjustment);
    QCOMPARE(curves.rgb.size(), std::size_t(3));
    w.desk().session.undo();
    w.settle();
    QVERIFY(!differ(shown(w), before));
    // By lightness, hue stays.
    w.find<QRadioButton>(QStringLiteral("Curve of L*"))->click();
    w.settle();
    w.drag(Qt::LeftButton, {QPointF(x, y), QPointF(x, y + 50)});
    QCOMPARE(std::get<scene::Curves>(w.desk().session.activeLayer()->adjustment()->adjustment).lightness.size(), std::size_t(3));
    QVERIFY(shown(w).at(int(x), int(y))[1] < before.at(int(x), int(y))[1] - 0.03f);
  }
  void coloursOfTonesAreAddedMovedAndTakenAway() {
    test::Window w;
    beginWith(w, test::kMatch);
    w.choose(QStringLiteral("subject"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Colours"), QStringLiteral("tones to colours"));
    const auto stops = [&] {
      return std::get<scene::TonesToColours>(w.desk().session.activeLayer()->adjustment()->adjustment).stops;
    };
    auto* strip = w.find<app::ToneColours>(QStringLiteral("Colours of the tones"));
    w.dragIn(strip, Qt::LeftButton, {QPoint(strip->width() / 2, 60), QPoint(strip->width() / 2, 62)});
    QCOMPARE(stops().size(), std::size_t(3));
    QVERIFY(std::abs(stops()[1].at - 0.5) < 0.02);
    QTest::keyClick(strip, Qt::Key_Right);
    w.settle();
    QVERIFY(stops()[1].at > 0.5);
    QTest::mouseClick(strip, Qt::RightButton, {}, QPoint(strip->width() / 2 + 2, strip->height() / 2));
    w.settle();
    QCOMPARE(stops().size(), std::size_t(2));
  }
  // The curve of another channel is taken in hand by a click on its line.
  void theLinesOfAllChannelsLieOnOneField() {
    test::Window w;
    beginWith(w, test::kMatch);
    w.choose(QStringLiteral("subject"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Tones"), QStringLiteral("curves"));
    const auto curves = [&] { return std::get<scene::Curves>(w.desk().session.activeLayer()->adjustment()->adjustment); };
    auto* field = w.find<app::CurveEditor>(QStringLiteral("Curve"));
    const QPoint middle(field->width() / 2, field->height() / 2), high(field->width() / 2, field->height() / 4);
    w.find<QRadioButton>(QStringLiteral("Curve of red"))->click();
    w.dragIn(field, Qt::LeftButton, {middle, high});
    QCOMPARE(curves().red.size(), std::size_t(3));
    w.find<QRadioButton>(QStringLiteral("Curve of all"))->click();
    w.settle();
    QTest::mouseClick(field, Qt::LeftButton, {}, high);
    w.settle();
    QVERIFY(w.find<QRadioButton>(QStringLiteral("Curve of red"))->isChecked());
    QVERIFY(curves().rgb.empty());
    QCOMPARE(curves().red.size(), std::size_t(3));
  }
  // The lines of the levels stand where the tones lie, in L*.
  void levelsAreLinesOnTheHistogram() {
    test::Window w;
    beginWith(w, test::kMatch);
    w.choose(QStringLiteral("subject"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Tones"), QStringLiteral("levels"));
    const auto levels = [&] { return std::get<scene::Levels>(w.desk().session.activeLayer()->adjustment()->adjustment); };
    auto* lines = w.find<app::LevelLines>(QStringLiteral("Darkest, middle and lightest tone"));
    const int left = 10, wide = lines->width() - 20;
    // The black line from L* 0 to L* 25.
    w.dragIn(lines, Qt::LeftButton, {QPoint(left, 40), QPoint(left + wide / 8, 40), QPoint(left + wide / 4, 40)});
    const double y = image::linearFromEncoded(levels().black);
    QVERIFY2(std::abs(100 * scene::lightnessOfLuminance(y) - 25) < 0.6, qPrintable(QString::number(levels().black)));
    QCOMPARE(levels().white, 1.0);
    // By keys: Space to the middle, to the left; the middle lightens.
    lines->setFocus();
    QTest::keyClick(lines, Qt::Key_Space);
    QTest::keyClick(lines, Qt::Key_Left, Qt::ShiftModifier);
    w.settle();
    QVERIFY(levels().middle > 1.1);
    QTest::keyClick(lines, Qt::Key_Delete);
    w.settle();
    QCOMPARE(levels().middle, 1.0);
  }
  // Of the hues, one tack outwards is that hue alone; for grey the same ring.
  void huesAreTacksOnARing() {
    test::Window w;
    beginWith(w, test::kMatch);
    w.choose(QStringLiteral("subject"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Colours"), QStringLiteral("hues"));
    const auto number = [&](const char* key) {
      return std::get<scene::ParametricAdjustment>(w.desk().session.activeLayer()->adjustment()->adjustment)[key];
    };
    auto* ring = w.find<app::HueRing>(QStringLiteral("strength of the hues"));
    const QPoint centre(ring->width() / 2, 112);
    // Green stands at 120 degrees from red on top, clockwise.
    const auto green = [&](double far) { return centre + QPoint(int(far * 0.866), int(far * 0.5)); };
    w.dragIn(ring, Qt::LeftButton, {green(56), green(70), green(86)});
    QVERIFY2(number("greensSaturation") > 0.9, qPrintable(QString::number(number("greensSaturation"))));
    QCOMPARE(number("redsSaturation"), 0.0);
    QCOMPARE(number("saturation"), 0.0);
    w.find<QRadioButton>(QStringLiteral("lightness"))->click();
    w.settle();
    ring = w.find<app::HueRing>(QStringLiteral("lightness of the hues"));
    ring->setFocus();
    QTest::keyClick(ring, Qt::Key_Down, Qt::ShiftModifier);
    w.settle();
    QVERIFY(number("greensLightness") < 0 && number("greensSaturation") > 0.9);
    w.choose(QStringLiteral("subject"));
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Colours"), QStringLiteral("grey from colours"));
    ring = w.find<app::HueRing>(QStringLiteral("lightness of the hues"));
    QTest::keyClick(ring, Qt::Key_Up);
    w.settle();
    QVERIFY(number("reds") > 0.30);
  }
};

HSEAM_TEST(AdjustmentsTest);
#include "adjustments_test.moc"
