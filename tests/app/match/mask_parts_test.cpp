#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>

#include "app/two_pictures.h"
#include "app/widgets/tone_patch.h"
#include "core/render/renderer.h"

using namespace hseam;

// Parts of a mask that are made of numbers, and showing by brightness, made by hand in the window.
class MaskPartsTest : public test::TwoPictures {
  Q_OBJECT

  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.desk().session.shown(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }
  static const scene::MaskNumbers& numbers(test::Window& w) { return w.desk().session.activeLayer()->mask.numbers; }

  static bool same(const image::Raster<float>& a, const image::Raster<float>& b, int x, int y) {
    return std::abs(a.at(x, y)[1] - b.at(x, y)[1]) < 2e-3f;
  }

 private slots:
  void aGradientIsDrawnDraggedAndTakenOut() {
    test::Window w;
    beginWith(w, test::kMatch, "mask-parts");
    const auto all = shown(w);
    w.desk().session.apply(scene::SetHidden{w.desk().session.active(), true});
    const auto none = shown(w);
    w.desk().session.undo();
    w.settle();
    const base::Rect b = scene::boundsOf(w.scene(), *w.desk().session.activeLayer());
    w.click(QStringLiteral("Gradient"));
    const double y = b.y + b.height / 2.0;
    w.drag(Qt::LeftButton, {QPointF(b.x + 20, y), QPointF(b.x + 100, y), QPointF(b.x + 200, y)});
    const auto faded = shown(w);
    QVERIFY(same(faded, all, b.x + 10, int(y)) && same(faded, none, b.x + 220, int(y)));
    // Its end is dragged on; the other way round; half as strong.
    w.drag(Qt::LeftButton, {QPointF(b.x + 200, y), QPointF(b.x + 250, y), QPointF(b.x + 300, y)});
    const auto* g = std::get_if<scene::GradientPart>(&numbers(w).parts[0].kind);
    QVERIFY(g && std::abs(scene::maskToScene(*w.desk().session.activeLayer()).map(g->to).x - (b.x + 300)) < 2);
    QVERIFY(!same(shown(w), none, b.x + 220, int(y)));
    w.click(QStringLiteral("the other way round"));
    QVERIFY(same(shown(w), none, b.x + 10, int(y)));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("strength")), QStringLiteral("0"));
    QVERIFY(same(shown(w), all, b.x + 10, int(y)));
    w.click(QStringLiteral("Take out"));
    QVERIFY(numbers(w).parts.empty());
    for (int i = 0; i < 4; ++i) w.desk().session.undo();
    w.settle();
    QVERIFY(shown(w).samples() == faded.samples());
  }
  void tonesAndColoursArePickedInThePicture() {
    test::Window w;
    beginWith(w, test::kMatch, "mask-parts");
    const base::Rect b = scene::boundsOf(w.scene(), *w.desk().session.activeLayer());
    w.click(QStringLiteral("Tones"));
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(b.x + 60, b.y + 60));
    w.settle();
    const auto tones = std::get<scene::TonesPart>(numbers(w).parts[0].kind);
    QVERIFY(tones.high - tones.low > 0.05 && tones.high - tones.low < 0.3);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("to")), QStringLiteral("20"));
    QVERIFY(std::get<scene::TonesPart>(numbers(w).parts[0].kind).high == 0.2);
    w.click(QStringLiteral("Colour"));
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(b.x + 30, b.y + 30));
    w.settle();
    QCOMPARE(numbers(w).parts.size(), std::size_t(2));
    QVERIFY(std::get<scene::ColourPart>(numbers(w).parts[1].kind).colour != scene::ColourPart{}.colour);
    w.click(QStringLiteral("Another's shape"));
    QVERIFY(std::get<scene::LayerPart>(numbers(w).parts[2].kind).layer == w.scene().layers[0]->id);
    auto* list = w.find<QComboBox>(QStringLiteral("Part of the mask"));
    QCOMPARE(list->count(), 3);
    auto* joins = w.find<QComboBox>(QStringLiteral("What the part does to the mask"));
    joins->setFocus();
    QTest::keyClick(joins, Qt::Key_Down);
    w.settle();
    QVERIFY(numbers(w).parts[2].joins == scene::MaskPart::Joins::also);
  }
  void theMaskStaysWhenItDoesNotGoAlong() {
    test::Window w;
    beginWith(w, test::kMatch, "mask-parts");
    const scene::LayerId id = w.desk().session.active();
    const base::Rect b = scene::boundsOf(w.scene(), *w.desk().session.activeLayer());
    w.desk().session.apply(
        scene::SetMask{id, test::picture(400, 320, 1, [](int x, int, int) { return x < 200 ? 255 : 0; }), "by hand"});
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("lowest")), QStringLiteral("30"));
    QVERIFY(std::abs(numbers(w).lowest - 0.3) < 1e-9);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("lowest")), QStringLiteral("0"));
    w.click(QStringLiteral("the mask goes along with its picture"));
    QVERIFY(numbers(w).heldAt);
    const auto before = shown(w);
    w.desk().session.apply(scene::SetHidden{id, true});
    const auto none = shown(w);
    w.desk().session.undo();
    scene::Placement p = w.desk().session.activeLayer()->picture()->placement;
    p.x += 60;
    w.desk().session.apply(scene::SetPlacement{id, p});
    w.settle();
    // The mask's border stands where it stood.
    const int y = b.y + 100, border = b.x + b.width / 2;
    QVERIFY(same(shown(w), none, border + 12, y) && same(before, none, border + 12, y));
    QVERIFY(!same(shown(w), none, border - 12, y));
    // Painted, it is hit where the pointer is.
    w.openPage("paint");
    w.drag(Qt::LeftButton, {QPointF(border + 60, y), QPointF(border + 66, y)});
    QVERIFY(!same(shown(w), none, border + 62, y));
  }
  void brightnessIsChosenOnTheSquare() {
    test::Window w;
    beginWith(w, test::kMatch, "mask-parts");
    w.openPage("blend");
    auto* patch = w.find<app::TonePatch>(QStringLiteral("Shows by brightness"));
    const auto all = shown(w);
    w.desk().session.apply(scene::SetHidden{w.desk().session.active(), true});
    const auto none = shown(w);
    w.desk().session.undo();
    w.settle();
    // The right side dragged to the left: light tones of the layer no longer show.
    const QPoint right(patch->width() / 2 + 75, patch->height() / 2);
    w.dragIn(patch, Qt::LeftButton, {right, right - QPoint(60, 0), right - QPoint(148, 0)});
    QVERIFY(w.desk().session.activeLayer()->shows.own[3] < 0.05);
    const base::Rect b = scene::boundsOf(w.scene(), *w.desk().session.activeLayer());
    QVERIFY(same(shown(w), none, b.x + 60, b.y + 60) && !same(all, none, b.x + 60, b.y + 60));
    // By keys: the left side, and its softness.
    w.desk().session.undo();
    w.settle();
    patch->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(patch, Qt::Key_Space);
    QTest::keyClick(patch, Qt::Key_Right);
    QTest::keyClick(patch, Qt::Key_Right, Qt::ShiftModifier);
    w.settle();
    const auto& own = w.desk().session.activeLayer()->shows.own;
    QVERIFY2(std::abs(own[0] - 0.01) < 1e-9 && std::abs(own[1] - 0.02) < 1e-9,
             qPrintable(QStringLiteral("%1 %2").arg(own[0]).arg(own[1])));
  }
};
HSEAM_TEST(MaskPartsTest);
#include "mask_parts_test.moc"
