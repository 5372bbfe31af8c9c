// Asked for a shadow of the place, a person shows one, and what stands there gets its own.

#include <QCheckBox>
#include <QDoubleSpinBox>

#include "app/stations/look_over/look_over.h"
#include "app/window.h"
#include "core/scene/floor.h"

using namespace hseam;

constexpr base::Size kYard{900, 600};
constexpr double kYardHorizon = 200;

// A yard with a pole of 1.5 m whose shadow falls to the right and back, leaving half of the floor's tone.
struct Yard {
  scene::FloorCamera camera{{kYardHorizon, 0, 1.6, 50}, kYard};
  base::Point foot = *camera.project({-1.5, 0, 6}), top = *camera.project({-1.5, 1.5, 6}), tip = *camera.project({0.2, 0, 7.2});

  image::TiledImage picture() const {
    const double dx = tip.x - foot.x, dy = tip.y - foot.y, length = std::hypot(dx, dy);
    return test::picture(kYard.width, kYard.height, 3, [&](int x, int y, int) {
      if (std::abs(x - foot.x) < 4 && y > top.y && y < foot.y) return 60.0;
      if (y < kYardHorizon) return 210.0;
      const double along = ((x - foot.x) * dx + (y - foot.y) * dy) / length,
                   off = std::abs((x - foot.x) * dy - (y - foot.y) * dx) / length;
      const double floor = 160 + (x * 7 + y * 13) % 9;
      return along > 0 && along < length && off < 4 ? floor / 2 : floor;
    });
  }
};

class PlaceLightPageTest : public QObject {
  Q_OBJECT
  const Yard yard_;

  void begin(test::Window& w) {
    scene::Layer place, post;
    place.id = {1}, place.name = "yard", post.id = {2}, post.name = "post";
    scene::PictureContent ground, picture;
    ground.source = yard_.picture();
    picture.source = test::picture(120, 300, 3, [](int x, int y, int) { return 90.0 + y / 5 + (x * 5 + y * 3) % 9; });
    picture.placement.x = 520, picture.placement.y = 190;
    place.content = std::move(ground), post.content = std::move(picture);
    post.mask.coverage =
        test::picture(120, 300, 1, [](int x, int y, int) { return x >= 35 && x < 85 && y >= 30 && y < 290 ? 255 : 0; });
    w.workspace().newScene(kYard);
    w.desk().session.apply(scene::AddLayer{std::move(place), {}, -1});
    w.desk().session.apply(scene::AddLayer{std::move(post), {}, -1});
    w.desk().session.apply(scene::SetFloor{scene::Floor{kYardHorizon, 0, 1.6, 50}});
    w.desk().session.setActive({2});
    w.settle();
  }
  static app::LookOver& over(test::Window& w) { return *w->findChild<app::LookOver*>(); }
  static void judge(test::Window& w) {
    w.goTo(test::kLookOver);
    QTRY_VERIFY_WITH_TIMEOUT(over(w).watch().idle() && over(w).watch().report(), 60'000);
    w.settle();
  }
  static std::vector<QPointF> way(base::Point from, base::Point to) {
    return {{from.x, from.y}, {(from.x + to.x) / 2, (from.y + to.y) / 2}, {to.x, to.y}};
  }

 private slots:
  void aShadowIsAskedForShownAndCastAlike() {
    test::Window w;
    begin(w);
    judge(w);
    QCOMPARE(over(w).nextStep().what, QStringLiteral("Does anything in the picture cast a shadow?"));
    QTest::keyClick(&w.get(), Qt::Key_Return, Qt::ControlModifier);
    w.settle();
    QCOMPARE(w->currentStation(), int(test::kPlace));
    QVERIFY(w.labelThatBegins(QStringLiteral("Not known yet")));
    const auto drag = [&](base::Point from, base::Point to) {
      const auto points = way(from, to);
      w.drag(Qt::LeftButton, QList<QPointF>(points.begin(), points.end()));
    };
    drag(yard_.foot, yard_.tip);
    QVERIFY(w.scene().light && w.scene().light->seen);
    // Nobody has said how tall it is: half a right angle. The handle goes to its top.
    const auto usual = scene::lightOf(w.scene());
    QVERIFY(usual && std::abs(usual->elevationDeg - 45) < 1);
    drag(w.scene().light->seen->top, yard_.top);
    const auto from = scene::lightOf(w.scene());
    const double azimuth = std::atan2(-1.7, 1.2) * 180 / M_PI, elevation = std::atan2(1.5, std::hypot(1.7, 1.2)) * 180 / M_PI;
    QVERIFY2(from && std::abs(from->azimuthDeg - azimuth) < 4 && std::abs(from->elevationDeg - elevation) < 2,
             qPrintable(QString("from %1, %2 high").arg(from->azimuthDeg).arg(from->elevationDeg)));
    for (const double c : w.scene().light->colour) QVERIFY2(std::abs(c - 0.5) < 0.05, qPrintable(QString::number(c)));
    QVERIFY(w.labelThatBegins(QStringLiteral("It comes from the left")));
    // What is asked is answered, and what was missing is a finding that is mended.
    judge(w);
    QVERIFY(over(w).nextStep().what != QStringLiteral("Does anything in the picture cast a shadow?"));
    const auto& found = over(w).watch().report()->findings;
    const auto missing = std::find_if(found.begin(), found.end(),
                                      [](const findings::Verdict& v) { return v.kind == findings::KindId::castShadow; });
    QVERIFY(missing != found.end() && missing->layer == scene::LayerId{2});
    const std::size_t before = w.scene().layers.size();
    w.goTo(test::kMatch);
    w.openPage("lights");
    w.click(QStringLiteral("Cast a shadow"));
    QCOMPARE(w.scene().layers.size(), before + 1);
    const auto& cast = std::get<scene::CastShadow>(w.desk().session.activeLayer()->light()->kind);
    QCOMPARE(cast.light, *from);
    QCOMPARE(cast.colour, w.scene().light->colour);
    // Back to the beginning, step by step.
    for (int i = 0; i < 3; ++i) w.desk().session.undo();
    QVERIFY(!w.scene().light && w.scene().layers.size() == before);
  }
  void itIsSetByHandOrSaidToBeNone() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.openPage("light");
    auto* none = w.find<QCheckBox>(QStringLiteral("nothing casts a shadow here"));
    QTest::mouseClick(none, Qt::LeftButton, {}, QPoint(8, none->height() / 2));
    w.settle();
    QVERIFY(w.scene().light && !w.scene().light->casts);
    QVERIFY(w.labelThatBegins(QStringLiteral("Nothing in the place casts a shadow")));
    // Taken back, nothing is known again: no direction was ever told.
    QTest::mouseClick(none, Qt::LeftButton, {}, QPoint(8, none->height() / 2));
    w.settle();
    QVERIFY(!w.scene().light);
    QVERIFY(!w.find<QDoubleSpinBox>(QStringLiteral("light's size"))->isEnabled());
    w.drag(Qt::LeftButton, {{300, 450}, {350, 440}, {420, 430}});
    QVERIFY(w.scene().light->casts && w.scene().light->seen);
    const auto shown = *scene::lightOf(w.scene());
    // The tip by arrows; a tip in the sky says nothing and changes nothing.
    w.canvas().setFocus();
    QTest::keyClick(&w.canvas(), Qt::Key_Right);
    w.settle();
    QVERIFY(scene::lightOf(w.scene())->elevationDeg < shown.elevationDeg);
    const auto kept = w.scene().light;
    w.drag(Qt::LeftButton, {{300, 450}, {350, 300}, {420, 100}});
    QCOMPARE(w.scene().light, kept);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("light's size")), QStringLiteral("9"));
    QCOMPARE(w.scene().light->from.sizeDeg, 9.0);
    w.click(QStringLiteral("Forget it"));
    QVERIFY(!w.scene().light);
  }
};

HSEAM_TEST(PlaceLightPageTest);
#include "place_light_page_test.moc"
