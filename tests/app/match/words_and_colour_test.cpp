#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>

#include "app/stations/match/looks.h"
#include "app/window.h"
#include "core/render/renderer.h"

using namespace hseam;

// Words, painting with colour, looks, marked places, and layers of another project.
class WordsAndColourTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;
  QTemporaryDir dir_;

  void begin(test::Window& w, bool subject = false) {
    w.workspace().newScene({50, 50});
    w.open(subject ? QStringList{small_.ground, small_.subject} : QStringList{small_.ground});
    w.goTo(test::kMatch);
  }
  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.desk().session.shown(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }
  // Where two pictures differ, px.
  static base::Rect differing(const image::Raster<float>& a, const image::Raster<float>& b) {
    base::Rect r;
    for (int y = 0; y < a.height(); ++y) {
      for (int x = 0; x < a.width(); ++x) {
        if (std::abs(a.at(x, y)[1] - b.at(x, y)[1]) > 0.02f) r = r.united({x, y, 1, 1});
      }
    }
    return r;
  }

 private slots:
  void wordsAreTypedSetAndDragged() {
    test::Window w;
    begin(w);
    w.openPage("words");
    const auto bare = shown(w);
    w.click(QStringLiteral("Add words"));
    auto* words = w.find<QPlainTextEdit>(QStringLiteral("Words"));
    words->setFocus();
    words->selectAll();
    QTest::keyClicks(words, QStringLiteral("HH"));
    w.settle();
    const base::Rect short_ = differing(bare, shown(w));
    QVERIFY(!short_.empty());
    // Centred about the middle of the canvas.
    QVERIFY(std::abs(short_.x + short_.width / 2.0 - w.scene().canvas.width / 2.0) < 1.5);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("100"));
    const base::Rect large = differing(bare, shown(w));
    QVERIFY2(std::abs(large.height - 100 * 2048.0 / 2816) < 2, qPrintable(QString::number(large.height)));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("tracking")), QStringLiteral("400"));
    QVERIFY(std::abs(differing(bare, shown(w)).width - large.width - 40) <= 1);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("tracking")), QStringLiteral("0"));
    w.drag(Qt::LeftButton, {{300, 200}, {320, 230}, {340, 260}});
    const base::Rect moved = differing(bare, shown(w));
    QVERIFY(std::abs(moved.x - large.x - 40) <= 1 && std::abs(moved.y - large.y - 60) <= 1);
    w.canvas().setFocus();
    QTest::keyClick(&w.canvas(), Qt::Key_Left, Qt::ShiftModifier);
    w.settle();
    QVERIFY(std::abs(differing(bare, shown(w)).x - moved.x + 10) <= 1);
    w.saveAs(dir_.filePath(QStringLiteral("words.hseam")));
    const auto kept = shown(w);
    test::Window again;
    again.open({dir_.filePath(QStringLiteral("words.hseam"))});
    QVERIFY(shown(again).samples() == kept.samples());
    again.choose(QStringLiteral("words"));
    again.goTo(test::kMatch);
    again.openPage("words");
    QCOMPARE(again.find<QPlainTextEdit>(QStringLiteral("Words"))->toPlainText(), QStringLiteral("HH"));
  }
  void wordsAreBentAndStayWords() {
    test::Window w;
    begin(w);
    w.openPage("words");
    const auto bare = shown(w);
    w.click(QStringLiteral("Add words"));
    const auto straight = shown(w);
    const base::Rect before = differing(bare, straight);
    w.goTo(test::kPlace);
    w.openPage("bend");
    // The lower right corner is pulled down.
    w.drag(Qt::LeftButton, {QPointF(before.right(), before.bottom()), QPointF(before.right(), before.bottom() + 30),
                            QPointF(before.right(), before.bottom() + 60)});
    const auto bent = shown(w);
    const base::Rect after = differing(bare, bent);
    // The last letter is round and does not reach into its corner.
    QVERIFY2(after.bottom() - before.bottom() > 40 && after.bottom() - before.bottom() <= 60 && std::abs(after.y - before.y) <= 2,
             qPrintable(QStringLiteral("%1 %2").arg(after.bottom() - before.bottom()).arg(after.y - before.y)));
    w.saveAs(dir_.filePath(QStringLiteral("bent.hseam")));
    w.workspace().newScene({50, 50});  // one window at a time may change a project
    test::Window again;
    again.open({dir_.filePath(QStringLiteral("bent.hseam"))});
    QVERIFY(shown(again).samples() == bent.samples());
    // They are words still, and stay bent.
    again.choose(QStringLiteral("words"));
    again.goTo(test::kMatch);
    again.openPage("words");
    auto* words = again.find<QPlainTextEdit>(QStringLiteral("Words"));
    words->setFocus();
    words->selectAll();
    QTest::keyClicks(words, QStringLiteral("HH"));
    again.settle();
    const auto tall = [&](const image::Raster<float>& r, bool right) {
      const base::Rect box = differing(bare, r);
      base::Rect end;
      for (int y = box.y; y < box.bottom(); ++y) {
        const int x = right ? box.right() - 3 : box.x + 2;
        if (std::abs(r.at(x, y)[1] - bare.at(x, y)[1]) > 0.1f) end = end.united({x, y, 1, 1});
      }
      return end.height;
    };
    QVERIFY2(tall(shown(again), true) > 1.5 * tall(shown(again), false),
             qPrintable(QStringLiteral("%1 %2").arg(tall(shown(again), true)).arg(tall(shown(again), false))));
    again.goTo(test::kPlace);
    again.openPage("bend");
    again.click(QStringLiteral("Do not bend"));
    QCOMPARE(tall(shown(again), true), tall(shown(again), false));
  }
  void colourIsPaintedTakenAndErased() {
    test::Window w;
    begin(w);
    w.openPage("paint-colour");
    const auto bare = shown(w);
    w.click(QStringLiteral("Add a layer to paint on"));
    QVERIFY(w.desk().session.activeLayer()->picture()->byHand);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("strength")), QStringLiteral("100"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("hardness")), QStringLiteral("100"));
    w.drag(Qt::LeftButton, {{100, 100}, {200, 100}, {300, 100}});
    const auto painted = shown(w);
    QVERIFY(std::abs(painted.at(200, 100)[0] - 0.85f) < 0.01f && std::abs(painted.at(200, 100)[2] - 0.35f) < 0.01f);
    QCOMPARE(painted.at(200, 300)[0], bare.at(200, 300)[0]);
    // A colour of the scene: the ground's own below.
    w.click(QStringLiteral("Take it from the scene"));
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(400, 400));
    w.settle();
    w.drag(Qt::LeftButton, {{100, 200}, {200, 200}, {300, 200}});
    QVERIFY(std::abs(shown(w).at(200, 200)[2] - bare.at(400, 400)[2]) < 0.09f);
    QVERIFY(shown(w).at(200, 200)[2] > 0.36f);
    w.drag(Qt::RightButton, {{180, 100}, {220, 100}});
    QVERIFY(std::abs(shown(w).at(200, 100)[0] - bare.at(200, 100)[0]) < 1e-6f);
    QVERIFY(std::abs(shown(w).at(280, 100)[0] - 0.85f) < 0.01f);
    for (int i = 0; i < 3; ++i) w.desk().session.undo();
    w.settle();
    QVERIFY(shown(w).samples() == bare.samples());
  }
  void aLookIsKeptAndUsedElsewhere() {
    {
      test::Window w;
      begin(w, true);
      w.openPage("add-adjustment");
      w.pick(QStringLiteral("Tones"), QStringLiteral("exposure"));
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("exposure")), QStringLiteral("-2"));
      w.choose(QStringLiteral("subject"));
      w.openPage("looks");
      w.type(w.find<QLineEdit>(QStringLiteral("Name of the look")), QStringLiteral("dusk / test"));  // Return keeps it
    }
    test::Window w;
    begin(w);
    w.openPage("looks");
    auto* list = w.find<QComboBox>(QStringLiteral("Kept look"));
    QVERIFY(list->findText(QStringLiteral("dusk / test")) >= 0);
    list->setCurrentIndex(list->findText(QStringLiteral("dusk / test")));
    const auto before = shown(w);
    w.click(QStringLiteral("Use it"));
    QVERIFY(w.scene().layers.size() == 2 && w.scene().layers[1]->clip);
    QVERIFY(shown(w).at(50, 50)[0] < 0.7f * before.at(50, 50)[0]);
    w.choose(QString::fromStdString(w.scene().layers[0]->name));
    list->setCurrentIndex(list->findText(QStringLiteral("dusk / test")));
    w.click(QStringLiteral("Forget it"));
    QVERIFY(list->findText(QStringLiteral("dusk / test")) < 0);
  }
  void marksSidesAndDifferences() {
    test::Window w;
    begin(w, true);
    w.goTo(test::kPlace);
    w.openPage("line-up");
    const scene::LayerId id = w.desk().session.active();
    const auto at = [&](double x, double y) {
      const auto* p = scene::findLayer(w.scene(), id)->picture();
      return p->placement.toScene(p->source.size()).map({x, y});
    };
    const base::Point a = at(100, 100), b = at(300, 200);
    w.drag(Qt::LeftButton, {{a.x, a.y}, {a.x + 40, a.y + 30}});
    w.drag(Qt::LeftButton, {{b.x, b.y}, {b.x - 10, b.y + 50}});
    w.click(QStringLiteral("Match the marks"));
    const double tolerance = 1.2 / w.canvas().zoom();  // drags land on screen pixels
    QVERIFY(std::hypot(at(100, 100).x - a.x - 40, at(100, 100).y - a.y - 30) < tolerance);
    QVERIFY(std::hypot(at(300, 200).x - b.x + 10, at(300, 200).y - b.y - 50) < tolerance);
    w.desk().session.toggleInHand(w.scene().layers[0]->id);
    w.click(QStringLiteral("Left"));
    QVERIFY(std::abs(scene::boundsOf(w.scene(), *w.scene().layers[0]).x - scene::boundsOf(w.scene(), *w.scene().layers[1]).x) <=
            4);
    const scene::Scene before = w.scene();
    w.click(QStringLiteral("see the differences from below"));
    QVERIFY(w->station(test::kPlace).view().differenceOf == w.desk().session.active());
    QCOMPARE(w.scene().layers[1]->mode, before.layers[1]->mode);
  }
  void layersOfAnotherProjectComeWithWhatFollowsThem() {
    const QString file = dir_.filePath(QStringLiteral("other.hseam"));
    {
      test::Window w;
      begin(w, true);
      const scene::LayerId id = w.desk().session.active();
      w.desk().session.apply(
          scene::SetMask{id, test::picture(400, 320, 1, [](int x, int, int) { return x < 200 ? 255 : 0; }), "by hand"});
      scene::Layer shadow;
      shadow.id = scene::freeId(w.scene());
      shadow.name = "its shadow";
      scene::CastShadow cast;
      cast.foot = {100, 300};
      shadow.content = scene::LightContent{id, cast};
      w.desk().session.apply(scene::AddLayer{shadow, {}, 1});
      w.saveAs(file);
    }
    test::Window w;
    begin(w);
    w.goTo(test::kGather);
    w.openPage("bring");
    w.workspace().askLayersOf(file);
    w.settle();
    auto* list = w.find<QListWidget>(QStringLiteral("Layers of the other project"));
    QCOMPARE(list->count(), 3);
    list->item(0)->setCheckState(Qt::Checked);
    list->item(1)->setCheckState(Qt::Checked);
    w.click(QStringLiteral("Bring them in"));
    QCOMPARE(w.scene().layers.size(), std::size_t(3));
    const scene::Layer &shadow = *w.scene().layers[1], &subject = *w.scene().layers[2];
    QVERIFY(shadow.light() && shadow.light()->caster == subject.id && !subject.mask.coverage.isNull());
    const auto kept = shown(w);
    const QString mine = dir_.filePath(QStringLiteral("mine.hseam"));
    w.saveAs(mine);
    QFile::remove(file);  // nothing is left behind there
    test::Window again;
    again.open({mine});
    QVERIFY(shown(again).samples() == kept.samples());
  }
};
HSEAM_TEST(WordsAndColourTest);
#include "words_and_colour_test.moc"
