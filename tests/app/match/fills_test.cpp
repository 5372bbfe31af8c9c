#include <QDoubleSpinBox>

#include "app/window.h"
#include "core/render/renderer.h"

using namespace hseam;

// Layers of colour, gradient and noise, and stitches along a path, made and changed in the window.
class FillsTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;

  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.desk().session.shown(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }
  void begin(test::Window& w) {
    w.workspace().newScene({50, 50});
    w.open({small_.ground});
    w.goTo(test::kMatch);
    w.openPage("fills");
  }

 private slots:
  void aGradientIsDrawnOnThePicture() {
    test::Window w;
    begin(w);
    const auto before = shown(w);
    w.click(QStringLiteral("Gradient"));
    const double width = w.scene().canvas.width, y = w.scene().canvas.height / 2.0;
    w.drag(Qt::LeftButton, {QPointF(width * 0.2, y), QPointF(width * 0.5, y), QPointF(width * 0.8, y)});
    const auto after = shown(w);
    const int row = int(y);
    QVERIFY(after.at(int(width * 0.1), row)[1] < 0.5f * before.at(int(width * 0.1), row)[1] + 0.1f);
    QVERIFY(std::abs(after.at(int(width * 0.9), row)[1] - before.at(int(width * 0.9), row)[1]) < 0.01f);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("ends")), QStringLiteral("100"));
    QVERIFY(shown(w).at(int(width * 0.9), row)[1] < 0.01f);
    w.desk().session.undo();
    w.settle();
    QVERIFY(shown(w).at(int(width * 0.9), row)[1] == after.at(int(width * 0.9), row)[1]);
  }
  void noiseChangesWithItsSeed() {
    test::Window w;
    begin(w);
    w.click(QStringLiteral("Noise"));
    const auto first = shown(w);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("seed")), QStringLiteral("77"));
    QVERIFY(shown(w).at(40, 40)[0] != first.at(40, 40)[0]);
  }
  void stitchesFollowAPathAndComeBack() {
    QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("stitched.hseam"));
    {
      test::Window w;
      begin(w);
      path::Path line{{{{path::corner({40, 100}), path::corner({340, 100})}, false, path::Joins::add}}};
      w.desk().session.apply(scene::SetPath{w.desk().session.active(), std::make_shared<const path::Path>(line), false, "drawn"});
      w.settle();
      w.click(QStringLiteral("Stitch along it"));
      const auto* f = w.desk().session.activeLayer()->fill();
      QVERIFY(f && f->stroke);
      const auto stitched = shown(w);
      // A period of 30 px: stitches of 18 with round ends, gaps of 12.
      QVERIFY(stitched.at(50, 100)[0] > 0.85f && stitched.at(64, 100)[0] < 0.85f && stitched.at(80, 100)[0] > 0.85f);
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("stitch")), QStringLiteral("0"));
      QVERIFY(shown(w).at(64, 100)[0] > 0.85f);
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("line")), QStringLiteral("20"));
      QVERIFY(shown(w).at(64, 108)[0] > 0.85f && stitched.at(64, 108)[0] < 0.85f);
      w.saveAs(file);
    }
    test::Window w;
    w.open({file});
    QVERIFY(w.scene().layers[1]->fill() && w.scene().layers[1]->fill()->stroke->style.widthPx == 20);
    QVERIFY(shown(w).at(64, 108)[0] > 0.85f);
    w.choose(QString::fromStdString(w.scene().layers[0]->name));
    w.goTo(test::kMatch);
    w.openPage("fills");
    path::Path corner{{{{path::corner({40, 20}), path::corner({140, 20}), path::corner({140, 80})}, false, path::Joins::add}}};
    w.desk().session.apply(scene::SetPath{w.desk().session.active(), std::make_shared<const path::Path>(corner), false, "drawn"});
    w.settle();
    w.click(QStringLiteral("Shape of the path"));
    QVERIFY(w.desk().session.activeLayer()->fill() && shown(w).at(120, 40)[0] > 0.9f && shown(w).at(60, 60)[0] < 0.9f);
  }
};

HSEAM_TEST(FillsTest);
#include "fills_test.moc"
