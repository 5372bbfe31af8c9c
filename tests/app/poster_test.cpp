// The half-made poster from bare pictures to the end, by hand in the real window.

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>

#include "app/window.h"
#include "core/image/lab.h"
#include "core/render/renderer.h"

using namespace hseam;

namespace {

constexpr int kBannerWide = 480, kBannerHigh = 640;

// Cloth that falls in upright creases.
double cloth(int x, int y, int c) {
  return 150 + 38 * std::sin(x / 19.0 + y / 160.0) - 10 * c;
}

}  // namespace

class PosterTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  QString written(const char* name, const image::TiledImage& picture) {
    const QString path = dir_.filePath(QLatin1String(name));
    test::must(image::writeTiled(path.toStdString(), picture));
    return path;
  }
  // A quarter of the size is enough to see what happened.
  static image::Raster<float> shown(test::Window& w) {
    const scene::Scene& s = w.desk().session.shown();
    return test::must(render::Renderer().render(s, base::Rect::of(render::canvasAt(s, 2)), 2, test::here()));
  }
  static double change(const image::Raster<float>& a, const image::Raster<float>& b, const base::Rect& scenePart) {
    const base::Rect part = scenePart.coarser(2).intersected({0, 0, a.width(), a.height()});
    double sum = 0;
    for (int y = part.y; y < part.bottom(); ++y) {
      for (int x = part.x; x < part.right(); ++x) {
        for (int c = 0; c < 3; ++c) sum += std::abs(double(a.at(x, y)[c]) - double(b.at(x, y)[c]));
      }
    }
    return sum / (3.0 * part.width * part.height);
  }
  static double meanOf(const image::Raster<float>& a, const base::Rect& scenePart) {
    const base::Rect part = scenePart.coarser(2);
    double sum = 0;
    for (int y = part.y; y < part.bottom(); ++y) {
      for (int x = part.x; x < part.right(); ++x) sum += double(a.at(x, y)[1]);
    }
    return sum / (double(part.width) * part.height);
  }
  // How much neighbours differ: what a blur takes away.
  static double detail(const image::Raster<float>& a, const base::Rect& scenePart) {
    const base::Rect part = scenePart.coarser(2);
    double sum = 0;
    for (int y = part.y; y < part.bottom(); ++y) {
      for (int x = part.x; x + 1 < part.right(); ++x) sum += std::abs(double(a.at(x + 1, y)[1]) - double(a.at(x, y)[1]));
    }
    return sum / (double(part.width) * part.height);
  }
  void cutOut(test::Window& w, const QString& layer) {
    w.choose(layer);
    w.goTo(test::kCutOut);
    w.openPage("guess");
    w.click(QStringLiteral("Guess"));
    w.click(QStringLiteral("Find the band"));
    w.openPage("solve");
    w.click(QStringLiteral("Solve"));
    QVERIFY(!w.desk().session.activeLayer()->mask.coverage.isNull());
  }
  void place(test::Window& w, double scale, double x, double y) {
    w.goTo(test::kPlace);
    w.openPage("set-in-place");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("scale")), QString::number(scale));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("from the left")), QString::number(x));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("from the top")), QString::number(y));
  }

 private slots:
  void thePosterIsMadeFromBarePictures() {
    const QString file = dir_.filePath(QStringLiteral("poster.hseam"));
    const QString banner = written("banner.png", test::picture(kBannerWide, kBannerHigh, 3, cloth));
    const QString emblem =
        written("emblem.png", test::picture(300, 300, 4, [](int x, int y, int c) {
                  const double r = std::hypot(x - 150, y - 150);
                  if (c == 3) return r < 140 ? 255.0 : 0.0;
                  return (r > 90 ? std::array{150.0, 30.0, 40.0} : std::array{230.0, 190.0, 60.0})[std::size_t(c)];
                }));
    image::Raster<float> finished(1, 1, 4);
    std::size_t layers = 0;
    {
      test::Window w;
      w.workspace().newScene({100, 100});
      w.open({test::demoPicture("pier.jpg"), banner, emblem, test::demoPicture("fox.jpg"), test::demoPicture("lamplighter.jpg")});
      QCOMPARE(w.scene().layers.size(), std::size_t(5));

      // Both subjects cut out and set on the pier; the banner hung up.
      cutOut(w, QStringLiteral("lamplighter"));
      place(w, 62, 560, 190);
      cutOut(w, QStringLiteral("fox"));
      place(w, 36, 1890, 1190);
      w.choose(QStringLiteral("banner"));
      place(w, 100, 2300, 150);

      // The emblem onto the banner: four arrows for its corners, then the creases by a grid, and it lets the cloth show.
      w.choose(QStringLiteral("emblem"));
      place(w, 100, 1000, 800);
      const auto bare = shown(w);
      w.openPage("line-up");
      const QPointF from[] = {{1000, 800}, {1300, 800}, {1300, 1100}, {1000, 1100}},
                    to[] = {{2380, 260}, {2690, 300}, {2680, 590}, {2390, 560}};
      for (int i = 0; i < 4; ++i) w.drag(Qt::LeftButton, {from[i], (from[i] + to[i]) / 2, to[i]});
      w.click(QStringLiteral("Match the marks"));
      QVERIFY(w.desk().session.activeLayer()->picture()->warp);
      w.openPage("bend");
      w.click(QStringLiteral("grid"));
      w.drag(Qt::LeftButton, {{2535, 428}, {2545, 440}, {2560, 450}});
      QVERIFY(!w.desk().session.activeLayer()->picture()->warp->grid.empty());
      w.goTo(test::kMatch);
      w.openPage("blend");
      w.multiplyByKey();
      QCOMPARE(w.desk().session.activeLayer()->mode, scene::BlendMode::multiply);
      const auto onBanner = shown(w);
      QVERIFY(change(bare, onBanner, {2450, 350, 150, 150}) > 0.1);                                  // it hangs there
      QVERIFY(change(bare, onBanner, {1050, 850, 200, 200}) > 0.05);                                 // and no longer here
      QVERIFY(detail(onBanner, {2480, 380, 100, 100}) > 0.3 * detail(bare, {2480, 380, 100, 100}));  // creases go on through it

      // The lamplighter keeps the shadow of his own paper.
      w.choose(QStringLiteral("lamplighter"));
      w.openPage("lights");
      w.click(QStringLiteral("Keep its shadow"));
      const auto kept = shown(w);
      const base::Rect besideHim{1600, 1650, 160, 100};
      QVERIFY2(meanOf(kept, besideHim) < meanOf(onBanner, besideHim) - 0.01,
               qPrintable(QStringLiteral("%1 was %2").arg(meanOf(kept, besideHim)).arg(meanOf(onBanner, besideHim))));
      // Nothing of the paper shows: where there is no shadow the pier is as it was, to half a lightness step.
      const base::Rect farFromIt{650, 300, 200, 150};
      QVERIFY2(std::abs(meanOf(kept, farFromIt) - meanOf(onBanner, farFromIt)) < 0.006,
               qPrintable(QStringLiteral("%1 was %2").arg(meanOf(kept, farFromIt)).arg(meanOf(onBanner, farFromIt))));

      // The fox casts one, and touches the planks.
      w.choose(QStringLiteral("fox"));
      w.openPage("lights");
      w.click(QStringLiteral("Contact"));
      w.choose(QStringLiteral("fox"));
      w.click(QStringLiteral("Cast a shadow"));
      const auto cast = shown(w);
      QVERIFY(change(kept, cast, {1800, 1600, 900, 350}) > 0.004);
      QVERIFY(change(kept, cast, {100, 100, 800, 600}) < 1e-4);

      // The background goes out of focus, growing into the distance.
      w.choose(QStringLiteral("pier"));
      w.openPage("add-adjustment");
      w.pick(QStringLiteral("Focus and grain"), QStringLiteral("out of focus"));
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("radius")), QStringLiteral("30"));
      w.drag(Qt::LeftButton, {{300, 1900}, {300, 1400}, {300, 1000}});
      const auto focused = shown(w);
      const base::Rect far{150, 800, 300, 200}, near{1300, 1900, 400, 90};
      QVERIFY(detail(focused, far) < 0.6 * detail(cast, far));
      QVERIFY(detail(focused, near) > 0.8 * detail(cast, near));

      // Light from behind wraps round him.
      w.choose(QStringLiteral("lamplighter"));
      w.openPage("add-adjustment");
      w.pick(QStringLiteral("Light and air"), QStringLiteral("light wrap"));
      QVERIFY(w.desk().session.activeLayer()->clip);
      const auto wrapped = shown(w);
      QVERIFY(change(focused, wrapped, {900, 600, 700, 1100}) > 1e-4);
      QVERIFY(change(focused, wrapped, {100, 100, 400, 400}) < 1e-6);

      // The evening over everything, falling off downwards by a gradient in its mask.
      w.choose(QStringLiteral("light wrap on lamplighter"));
      w.openPage("add-adjustment");
      w.find<QCheckBox>(QStringLiteral("confine to the active layer"))->setChecked(false);
      w.pick(QStringLiteral("Tones"), QStringLiteral("exposure"));
      w.type(w.find<QDoubleSpinBox>(QStringLiteral("exposure")), QStringLiteral("-1"));
      w.openPage("mask-parts");
      w.click(QStringLiteral("Gradient"));
      w.drag(Qt::LeftButton, {{1500, 100}, {1500, 800}, {1500, 1500}});
      const auto graded = shown(w);
      const base::Rect top{200, 20, 800, 120}, foot{200, 1800, 800, 150};
      QVERIFY(meanOf(graded, top) < 0.8 * meanOf(wrapped, top));
      QVERIFY(change(wrapped, graded, foot) < 1e-4);

      // And its title.
      w.openPage("words");
      w.click(QStringLiteral("Add words"));
      QVERIFY(w.desk().session.activeLayer()->fill() && w.desk().session.activeLayer()->fill()->lettering);
      finished = shown(w);
      QVERIFY(change(graded, finished, {1200, 100, 600, 300}) > 0.005);
      layers = scene::allLayers(w.scene()).size();
      QCOMPARE(layers, std::size_t(12));
      w.saveAs(file);
    }

    // Closed and opened again it is the same, to the bit.
    test::Window w;
    w.open({file});
    QCOMPARE(scene::allLayers(w.scene()).size(), layers);
    QVERIFY(shown(w).samples() == finished.samples());

    // The first step is changed: another background under all of it. Everything else stays and goes on acting.
    w.choose(QStringLiteral("pier"));
    w.workspace().replaceActive(written("night.png", test::picture(1500, 1000, 3, [](int x, int y, int c) {
                                          return 40.0 + 20 * c + ((x / 40 + y / 40) % 2) * 30;
                                        })));
    w.settle();
    QCOMPARE(scene::allLayers(w.scene()).size(), layers);
    const auto night = shown(w);
    QVERIFY(change(finished, night, {100, 300, 500, 500}) > 0.05);
    QVERIFY(change(finished, night, {1250, 900, 80, 200}) < 0.06);  // he himself, but for the light that wraps round
    // So is the cut: more of him is hidden by hand, and his shadow and his light follow.
    w.choose(QStringLiteral("lamplighter"));
    w.goTo(test::kMatch);
    w.openPage("paint");
    w.drag(Qt::RightButton, {{1250, 900}, {1300, 1000}, {1330, 1100}});
    QVERIFY(change(night, shown(w), {1240, 900, 100, 200}) > 0.02);
    w.desk().session.undo();
    w.desk().session.undo();
    w.settle();
    QVERIFY(shown(w).samples() == finished.samples());
  }
};
HSEAM_TEST(PosterTest);
#include "poster_test.moc"
