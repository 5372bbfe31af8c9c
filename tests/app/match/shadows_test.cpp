#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QLabel>

#include "app/instruments/floor_tool.h"
#include "app/widgets/light_dial.h"
#include "app/window.h"
#include "core/image/lab.h"
#include "core/render/renderer.h"

using namespace hseam;

// What ties a subject to the ground, made by hand in the window: horizon, size, cast, contact and kept shadows.
class ShadowsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  // A dark post on paper with a soft shadow beside it, and a grey floor.
  QString written(const char* name, const image::TiledImage& picture) {
    const QString path = dir_.filePath(QLatin1String(name));
    test::must(image::writeTiled(path.toStdString(), picture));
    return path;
  }
  void begin(test::Window& w) {
    w.workspace().newScene({50, 50});
    w.open({written("floor.png", test::picture(900, 700, 3, [](int, int, int) { return 180; })),
            written("post.png", test::picture(300, 320, 3, [](int x, int y, int) {
                      const bool post = x >= 130 && x < 170 && y >= 40 && y < 260;
                      const double d = std::hypot((x - 200) / 60.0, (y - 255) / 14.0);
                      return post ? 40.0 : 232 - 110 * std::exp(-d * d) - 0.02 * x;
                    }))});
    w.desk().session.apply(scene::SetMask{
        w.desk().session.active(),
        test::picture(300, 320, 1, [](int x, int y, int) { return x >= 130 && x < 170 && y >= 40 && y < 260 ? 255 : 0; }),
        "by hand"});
    scene::Placement p = w.desk().session.activeLayer()->picture()->placement;
    p.x = 250, p.y = 250;
    w.desk().session.apply(scene::SetPlacement{w.desk().session.active(), p});
    scene::Floor f;
    f.horizonY = 180;
    w.desk().session.apply(scene::SetFloor{f});
  }
  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.desk().session.shown(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }

 private slots:
  void aShadowIsCastDraggedAndUndone() {
    test::Window w;
    begin(w);
    w.goTo(test::kMatch);
    w.openPage("lights");
    const auto before = shown(w);
    w.click(QStringLiteral("Cast a shadow"));
    QVERIFY(w.desk().session.activeLayer()->light());
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
    QVERIFY(w.scene().layers[1]->light());  // below the subject
    // Its tip is dragged to the right of the foot (400, 510).
    const auto tipAt = [&](double x, double y) {
      const auto& light = std::get<scene::CastShadow>(w.desk().session.activeLayer()->light()->kind).light;
      const scene::FloorCamera camera(scene::floorOf(w.scene()), w.scene().canvas);
      const auto from = *camera.floorAt({400, 510}), to = *camera.floorAt({x, y});
      return std::abs(std::remainder(light.azimuthDeg - std::atan2(-(to[0] - from[0]), to[2] - from[2]) * 180 / M_PI, 360.0));
    };
    w.drag(Qt::LeftButton, {QPointF(520, 560), QPointF(600, 550), QPointF(640, 540)});
    QVERIFY(tipAt(640, 540) < 2);
    const auto after = shown(w);
    QVERIFY(after.at(500, 521)[1] < before.at(500, 521)[1] - 0.15f);
    QVERIFY(std::abs(after.at(300, 521)[1] - before.at(300, 521)[1]) < 0.01f);
    // The dial turns it too.
    auto* dial = w.find<app::LightDial>(QStringLiteral("Where the light comes from"));
    const double azimuth = std::get<scene::CastShadow>(w.desk().session.activeLayer()->light()->kind).light.azimuthDeg;
    QTest::keyClick(dial, Qt::Key_Left, Qt::ShiftModifier);
    w.settle();
    QVERIFY(std::abs(std::remainder(
                std::get<scene::CastShadow>(w.desk().session.activeLayer()->light()->kind).light.azimuthDeg - azimuth + 15,
                360.0)) < 1e-6);
    // It follows its subject.
    const auto turned = shown(w);
    w.choose(QStringLiteral("post"));
    scene::Placement p = w.desk().session.activeLayer()->picture()->placement;
    p.x += 150;
    w.desk().session.apply(scene::SetPlacement{w.desk().session.active(), p});
    w.settle();
    const auto moved = shown(w);
    // What lay in shadow 150 px further left lies there now, as dark.
    double off = 0, darkness = 0;
    for (int y = 514; y < 640; ++y) {
      for (int x = 340; x < 700; ++x) {
        off += std::abs(double(moved.at(x + 150, y)[1]) - double(turned.at(x, y)[1]));
        darkness += double(before.at(x, y)[1]) - double(turned.at(x, y)[1]);
      }
    }
    QVERIFY2(darkness > 100, qPrintable(QString::number(darkness)));
    // Had it stayed, this would be twice the darkness; what is left is the posts' leaning in perspective.
    QVERIFY2(off < 0.5 * darkness, qPrintable(QStringLiteral("%1 of %2").arg(off).arg(darkness)));
    while (w.scene().layers.size() > 2) w.desk().session.undo();
    w.settle();
    QVERIFY(shown(w).at(500, 521)[1] == before.at(500, 521)[1]);
  }
  void contactShadingRimAndThicknessShowInTheScene() {
    test::Window w;
    begin(w);
    w.goTo(test::kMatch);
    const struct {
      const char* button;
      bool below;
    } all[] = {{"Contact", true}, {"Shade it", false}, {"Rim", false}, {"Thickness", false}};
    for (const auto& a : all) {
      w.choose(QStringLiteral("post"));
      w.openPage("lights");
      const auto before = shown(w);
      const int steps = w.desk().session.history().current();
      w.click(QLatin1String(a.button));
      const scene::Layer* l = w.desk().session.activeLayer();
      QVERIFY2(l->light(), a.button);
      QCOMPARE(l->clip, !a.below);
      const auto after = shown(w);
      bool changed = false;
      for (std::size_t i = 0; i < after.samples().size(); ++i)
        changed |= std::abs(after.samples()[i] - before.samples()[i]) > 0.02f;
      QVERIFY2(changed, a.button);
      QVERIFY(after.at(20, 20)[0] == before.at(20, 20)[0]);
      if (a.below) {
        // Another line, drawn by hand.
        w.drag(Qt::LeftButton, {QPointF(600, 600), QPointF(650, 600), QPointF(700, 600)});
        QVERIFY(shown(w).at(650, 600)[0] < before.at(650, 600)[0] - 0.2f);
        QVERIFY(std::abs(shown(w).at(400, 512)[0] - before.at(400, 512)[0]) < 0.02f);
      }
      while (w.desk().session.history().current() > steps) w.desk().session.undo();
      w.settle();
    }
  }
  void theShadowOnItsPaperIsKept() {
    test::Window w;
    begin(w);
    w.goTo(test::kMatch);
    w.openPage("lights");
    const auto before = shown(w);
    w.click(QStringLiteral("Keep its shadow"));
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
    QCOMPARE(w.scene().layers[1]->mode, scene::BlendMode::multiply);
    const auto after = shown(w);
    QVERIFY2(after.at(450, 505)[1] < before.at(450, 505)[1] - 0.2f, qPrintable(QString::number(after.at(450, 505)[1])));
    // Paper leaves the floor as it is, to 0.3 L*.
    const auto l = [](const float* p) { return image::labFromEncoded({double(p[0]), double(p[1]), double(p[2])}).l; };
    for (const auto& [x, y] : {std::pair(300, 300), {500, 320}, {520, 420}})
      QVERIFY(std::abs(l(after.at(x, y)) - l(before.at(x, y))) < 0.3);
  }
  void horizonByHandAndSizeOnTheFloor() {
    test::Window w;
    begin(w);
    w.goTo(test::kPlace);
    w.openPage("floor");
    w.drag(Qt::LeftButton, {QPointF(450, 180), QPointF(450, 200), QPointF(450, 230)});
    QVERIFY(std::abs(w.scene().floor->horizonY - 230) < 2);
    w.drag(Qt::LeftButton, {QPointF(800, 230), QPointF(800, 250)});
    QVERIFY(w.scene().floor->tiltDeg > 1);
    w.desk().session.undo();
    w.settle();
    // Two planks and two others that meet on one level.
    w.click(QStringLiteral("From level lines"));
    w.drag(Qt::LeftButton, {QPointF(100, 600), QPointF(300, 400)});
    w.drag(Qt::LeftButton, {QPointF(500, 600), QPointF(500, 400)});
    w.drag(Qt::LeftButton, {QPointF(100, 500), QPointF(500, 350)});
    w.drag(Qt::LeftButton, {QPointF(100, 300), QPointF(500, 250)});
    // The lines meet at (500, 200) and (900, 200).
    QVERIFY2(std::abs(w.scene().floor->horizonY - 200) < 4 && std::abs(w.scene().floor->tiltDeg) < 0.6,
             qPrintable(QStringLiteral("%1 %2").arg(w.scene().floor->horizonY).arg(w.scene().floor->tiltDeg)));
    // The post is 220 px tall with its foot at 510: for a camera of 1.6 m and the horizon at 200 that is about 1.14 m.
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("stands")), QStringLiteral("2"));
    QVERIFY(w.find<QLabel>(QStringLiteral("Size on the floor"))->text().contains(QStringLiteral("too small")));
    w.click(QStringLiteral("Stand it right"));
    QVERIFY(w.find<QLabel>(QStringLiteral("Size on the floor"))->text().contains(QStringLiteral("stands right")));
    const auto& p = w.desk().session.activeLayer()->picture()->placement;
    const auto foot = p.toScene({300, 320}).map({150, 260});
    QVERIFY(std::abs(foot.x - 400) < 0.5 && std::abs(foot.y - 510) < 0.5);
    const double scaleNear = p.scale;
    // Moved into the distance it shrinks, with its foot where it was dragged.
    w.find<QCheckBox>(QStringLiteral("keeps its size as it is moved"))->setChecked(true);
    w.openPage("set-in-place");
    w.drag(Qt::LeftButton, {QPointF(400, 400), QPointF(400, 350), QPointF(400, 300)});
    const auto& q = w.desk().session.activeLayer()->picture()->placement;
    QVERIFY2(q.scale < 0.8 * scaleNear, qPrintable(QString::number(q.scale / scaleNear)));
    w.openPage("floor");
    QVERIFY(w.find<QLabel>(QStringLiteral("Size on the floor"))->text().contains(QStringLiteral("stands right")));
  }
};

HSEAM_TEST(ShadowsTest);
#include "shadows_test.moc"
