// The whole main job, in the real window, on the demo's pictures.

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QProcess>

#include "app/stations/hand_over/hand_over.h"
#include "app/widgets/curve_editor.h"
#include "app/window.h"
#include "core/render/renderer.h"
#include "reference/composite.h"

using namespace hseam;

namespace {

// The share of coverage that a selection or mask and the truth have in common.
double agreement(const image::TiledImage& coverage, const image::Raster<std::uint8_t>& truth) {
  const auto c = test::must(image::read8(coverage, 0, base::Rect::of(coverage.size())));
  double both = 0, either = 0;
  for (std::size_t i = 0; i < truth.samples().size(); ++i) {
    both += std::min(c.samples()[i], truth.samples()[i]);
    either += std::max(c.samples()[i], truth.samples()[i]);
  }
  return both / either;
}

image::Raster<float> pictureAt(const QString& path) {
  const auto p = test::must(image::readPicture(path.toStdString(), test::memory(), test::here(), {}));
  return test::must(image::readFloat(p.pixels, 0, base::Rect::of(p.pixels.size())));
}

}  // namespace

class MainJobTest : public QObject {
  Q_OBJECT
 private slots:
  void twoPhotographsInOneBelievablePictureOut() {
    QTemporaryDir dir;
    test::Window w;
    w.workspace().newScene({100, 100});

    // Gather: two pictures. The first one gives the scene its size.
    w.open({test::demoPicture("pier.jpg"), test::demoPicture("lamplighter.jpg")});
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QCOMPARE(w.scene().canvas, base::Size({3000, 2000}));
    const scene::LayerId puppet = w.scene().layers[1]->id;
    QCOMPARE(w.desk().session.active(), puppet);
    QVERIFY(!w.scene().layers[1]->picture()->sourceHash.empty());

    // Cut out: guess, a hint on the lantern's ring and one on the paper, band, solve.
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("Guess"));
    const auto truth = test::must(image::read8(
        test::must(image::readCoverage((test::demoPicture("lamplighter-alpha.png")).toStdString(), test::memory(), test::here())),
        0, {0, 0, 2250, 3000}));
    const double guessed = agreement(scene::findLayer(w.scene(), puppet)->picture()->cutout->selection, truth);
    QVERIFY2(guessed > 0.95, qPrintable(QString::number(guessed)));
    w.drag(Qt::LeftButton, {{512, 640}, {512, 780}, {520, 850}});
    w.drag(Qt::RightButton, {{1850, 2300}, {1950, 2400}});
    const auto& hinted = *scene::findLayer(w.scene(), puppet)->picture()->cutout;
    QCOMPARE(int(*test::must(image::read8(hinted.hints, 0, {512, 700, 1, 1})).at(0, 0)), 255);
    QCOMPARE(int(*test::must(image::read8(hinted.hints, 0, {1900, 2350, 1, 1})).at(0, 0)), 0);
    QVERIFY(agreement(hinted.selection, truth) > 0.95);
    w.click(QStringLiteral("Find the band"));
    QVERIFY(!scene::findLayer(w.scene(), puppet)->picture()->cutout->band.isNull());
    // The band painted wider over the strands at the left.
    w.drag(Qt::LeftButton, {{790, 900}, {800, 1000}, {830, 1100}});
    QCOMPARE(int(*test::must(image::read8(scene::findLayer(w.scene(), puppet)->picture()->cutout->band, 0, {800, 1000, 1, 1}))
                      .at(0, 0)),
             128);
    w.openPage("solve");
    w.click(QStringLiteral("Solve"));
    const double solved = agreement(scene::findLayer(w.scene(), puppet)->mask.coverage, truth);
    QVERIFY2(solved > guessed && solved > 0.975, qPrintable(QStringLiteral("guessed %1, solved %2").arg(guessed).arg(solved)));
    QVERIFY(!scene::findLayer(w.scene(), puppet)->picture()->cutout->clean.isNull());

    // Place: typed numbers, then a drag.
    w.goTo(test::kPlace);
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("scale")), QStringLiteral("100"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("from the left")), QStringLiteral("300"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("from the top")), QStringLiteral("-700"));
    w.drag(Qt::LeftButton, {{1500, 900}, {1600, 950}, {1700, 1000}});
    const scene::Placement& placed = scene::findLayer(w.scene(), puppet)->picture()->placement;
    QCOMPARE(placed.scale, 1.0);
    QVERIFY(placed.x > 450 && placed.x < 550 && placed.y > -650 && placed.y < -550);
    QCOMPARE(placed.x, std::round(placed.x));

    // The mask painted: the right button hides the shoes, the left one brings a part back.
    w.goTo(test::kCutOut);
    w.openPage("paint");
    w.drag(Qt::RightButton, {{1000, 2540}, {1400, 2540}});
    QCOMPARE(test::maskAt(*scene::findLayer(w.scene(), puppet), 1200, 2540), 0);
    w.drag(Qt::LeftButton, {{1180, 2540}, {1230, 2540}});
    QCOMPARE(test::maskAt(*scene::findLayer(w.scene(), puppet), 1200, 2540), 255);

    // Match: curves confined to the puppet, bent with the mouse; their mask painted out on the right; multiply.
    w.goTo(test::kMatch);
    w.openPage("add-adjustment");
    w.pick(QStringLiteral("Tones"), QStringLiteral("curves"));
    auto* curve = w.get().findChild<app::CurveEditor*>();
    QVERIFY(curve && curve->isVisible());
    const QPoint middle = curve->rect().center();
    w.dragIn(curve, Qt::LeftButton, {middle, middle + QPoint(10, 15), middle + QPoint(20, 30)});
    const scene::Layer* curves = w.desk().session.activeLayer();
    QVERIFY(curves->clip && curves->adjustment());
    const auto points = std::get<scene::Curves>(curves->adjustment()->adjustment).rgb;
    QCOMPARE(points.size(), std::size_t(3));
    QVERIFY(points[1].second < points[1].first - 0.05);  // darker
    w.openPage("paint");
    w.drag(Qt::RightButton, {{2000, 700}, {2000, 1500}});
    QVERIFY(test::maskAt(*w.desk().session.activeLayer(), 2000, 1100) == 0 &&
            test::maskAt(*w.desk().session.activeLayer(), 500, 1100) == 255);
    w.openPage("blend");
    w.multiplyByKey();
    QCOMPARE(w.desk().session.activeLayer()->mode, scene::BlendMode::multiply);
    // The puppet and its curve go into a group of less than full opacity.
    w.openPage("group");
    w.click(QStringLiteral("Make a group"));
    QVERIFY(w.desk().session.activeLayer()->group());
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    w.openPage("blend");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("opacity")), QStringLiteral("85"));
    QCOMPARE(w.desk().session.activeLayer()->opacity, 0.85);

    // Hand over, and the same scene rendered without a window.
    w.goTo(test::kHandOver);
    w.find<QComboBox>(QStringLiteral("Kind of file"))->setCurrentIndex(1);
    const QString written = dir.filePath(QStringLiteral("poster.png")), headless = dir.filePath(QStringLiteral("headless.png"));
    qobject_cast<app::HandOver*>(&w->station(test::kHandOver))->write(written);
    w.settle();
    w.workspace().document().flush();
    QProcess hseam;
    hseam.start(QStringLiteral(HSEAM_BIN "/hseam"),
                {QStringLiteral("render"), w.workspace().document().path(), QStringLiteral("--out"), headless});
    QVERIFY(hseam.waitForFinished(120'000));
    QVERIFY2(hseam.exitCode() == 0, hseam.readAllStandardError().constData());
    const auto mine = pictureAt(written), theirs = pictureAt(headless);
    QCOMPARE(mine.size(), base::Size({3000, 2000}));
    QVERIFY(mine.samples() == theirs.samples());

    // Both beside a composite in double precision: within one step (the dither moves a value by less than one).
    const base::Rect part{900, 300, 1300, 1200};
    const auto reference = reference::composite(w.scene(), part);
    double worst = 0;
    for (int y = 0; y < part.height; ++y) {
      for (int x = 0; x < part.width; ++x) {
        const auto& r = reference[std::size_t(y) * std::size_t(part.width) + std::size_t(x)];
        for (int c = 0; c < 3; ++c)
          worst = std::max(worst, std::abs(double(mine.at(part.x + x, part.y + y)[c]) - r.colour[std::size_t(c)]));
      }
    }
    QVERIFY2(worst * 255 <= 1.01, qPrintable(QString::number(worst * 255)));

    // And what the canvas shows at 1:1.
    w.goTo(test::kLookOver);
    w.openPage("eyes");  // no knots on it
    w.canvas().zoomTo(1, QPointF(w.canvas().width() / 2.0, w.canvas().height() / 2.0));
    w.settle();
    QCOMPARE(w.canvas().zoom(), 1.0);
    const QImage shown = w.canvas().grab().toImage();
    const QTransform back = w.canvas().toWidget().inverted();
    int most = 0;
    long compared = 0;
    for (int y = 0; y < shown.height(); ++y) {
      for (int x = 0; x < shown.width(); ++x) {
        const QPointF p = back.map(QPointF(x + 0.5, y + 0.5));
        const int sx = int(std::floor(p.x())), sy = int(std::floor(p.y()));
        if (sx < 0 || sy < 0 || sx >= 3000 || sy >= 2000) continue;
        const QRgb c = shown.pixel(x, y);
        const int rgb[3] = {qRed(c), qGreen(c), qBlue(c)};
        for (int k = 0; k < 3; ++k) most = std::max(most, std::abs(rgb[k] - int(std::lround(mine.at(sx, sy)[k] * 255))));
        ++compared;
      }
    }
    QVERIFY(compared > 300'000);
    QVERIFY2(most <= 1, qPrintable(QString::number(most)));
  }
};
HSEAM_TEST(MainJobTest);
#include "main_job_test.moc"
