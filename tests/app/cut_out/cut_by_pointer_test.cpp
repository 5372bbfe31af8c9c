// From a picture to a solved cut by pointer alone, on a rendered scene that is unlike the demo: a striped vase with a handle on a
// table, before shelves that are out of focus.

#include <QToolButton>

#include "app/window.h"
#include "core/image/picture_file.h"

using namespace hseam;

namespace {

constexpr int kW = 960, kH = 720;

double smooth(double d) {
  return std::clamp(0.5 - d, 0.0, 1.0);  // one px soft
}

// Coverage of the vase: a body of revolution, a neck, and a handle with an opening.
double vaseAt(double x, double y) {
  const double t = (y - 250) / 330;  // 0 at the shoulder, 1 at the foot
  const double half = t < 0 ? 46 + 10 * std::sin((y - 160) / 18) : 46 + 104 * std::sin(std::min(1.0, t) * 2.6 + 0.25);
  const double body = std::max({std::abs(x - 480) - half, 160 - y, y - 580});
  const double ring = std::abs(std::hypot((x - 590) / 0.8, y - 290) - 70) - 13;
  const double handle = std::max(ring, 500 - x);
  return std::max(smooth(body), smooth(handle));
}

double colourAt(double x, double y, int c, test::Noise& noise) {
  const double stripe = std::sin((y + 12 * std::sin(x / 60)) / 11) > 0.2;
  const double light = 0.55 + 0.45 * std::cos((x - 430) / 170);
  const double vase[3] = {light * (stripe ? 60 : 205), light * (stripe ? 105 : 190), light * (stripe ? 150 : 150)};
  // Shelves: wide soft bars and blots.
  const double bars = 30 * std::sin(x / 95.0) * std::sin(y / 120.0) + 18 * std::sin(x / 37.0 + y / 61.0);
  const double table = smooth((560 + 0.02 * x - y) / 6);
  const double ground[3] = {(1 - table) * (96 + bars) + table * (128 + 8 * std::sin(x / 9.0 + y / 40.0)),
                            (1 - table) * (84 + 0.8 * bars) + table * (92 + 6 * std::sin(x / 9.0 + y / 40.0)),
                            (1 - table) * (70 + 0.5 * bars) + table * (58)};
  const double a = vaseAt(x, y);
  return a * vase[c] + (1 - a) * ground[c] + 5 * (noise.unit() - 0.5);
}

struct Errors {
  double overlap = 0, mean = 0;
};
Errors against(const image::TiledImage& coverage) {
  const auto got = test::must(image::read8(coverage, 0, {0, 0, kW, kH}));
  double both = 0, either = 0, off = 0;
  for (int y = 0; y < kH; ++y) {
    for (int x = 0; x < kW; ++x) {
      const double a = *got.at(x, y) / 255.0, b = vaseAt(x, y);
      both += std::min(a, b), either += std::max(a, b), off += std::abs(a - b);
    }
  }
  return {both / either, off / (kW * kH)};
}

}  // namespace

class CutByPointerTest : public QObject {
  Q_OBJECT
 private slots:
  void aPictureIsCutOutByPointer() {
    const QTemporaryDir folder;
    const std::string file = folder.filePath(QStringLiteral("vase.png")).toStdString();
    test::Noise noise(11);
    QVERIFY(
        image::writeTiled(file, test::picture(kW, kH, 3, [&](int x, int y, int c) { return colourAt(x, y, c, noise); })).ok());
    test::Window w;
    w.workspace().newScene({kW, kH});
    w.open({QString::fromStdString(file)});
    const auto cutout = [&] { return *w.desk().session.activeLayer()->picture()->cutout; };
    w.goTo(test::kCutOut);
    w.click(QStringLiteral("Guess"));
    const Errors guessed = against(cutout().selection);
    qInfo("guess %.3f", guessed.overlap);
    QVERIFY2(guessed.overlap > 0.98, qPrintable(QString::number(guessed.overlap)));

    // What is seen is offered in small pictures; the first one is selected.
    QList<QToolButton*> seen;
    for (QToolButton* b : w.get().findChildren<QToolButton*>()) {
      if (b->isVisible() && b->accessibleName().startsWith(QLatin1String("seen: "))) seen << b;
    }
    QVERIFY(!seen.isEmpty() && seen.size() <= 5);
    QVERIFY(seen.front()->isChecked());

    // Two strokes: down the vase, and through the handle's opening, which is background.
    w.drag(Qt::LeftButton, {{480, 200}, {470, 300}, {480, 420}, {490, 540}});
    w.drag(Qt::RightButton, {{612, 258}, {620, 285}, {618, 308}});
    const Errors helped = against(cutout().selection);
    qInfo("with two strokes %.3f", helped.overlap);
    QVERIFY2(helped.overlap > 0.98, qPrintable(QString::number(helped.overlap)));
    QVERIFY(int(*test::must(image::read8(cutout().selection, 0, {618, 285, 1, 1})).at(0, 0)) < 60);

    w.click(QStringLiteral("Find the band"));
    QVERIFY(!cutout().band.isNull());
    // A sure inside and a sure outside remain.
    const auto band = test::must(image::read8(cutout().band, 0, {0, 0, kW, kH}));
    QCOMPARE(int(*band.at(480, 420)), 255);
    QCOMPARE(int(*band.at(100, 300)), 0);
    w.openPage("solve");
    w.click(QStringLiteral("Solve"));
    const Errors solved = against(w.desk().session.activeLayer()->mask.coverage);
    qInfo("solved %.3f, mean error of alpha %.4f", solved.overlap, solved.mean);
    QVERIFY2(solved.overlap > 0.97 && solved.mean < 0.008,
             qPrintable(QStringLiteral("%1, %2").arg(solved.overlap).arg(solved.mean)));
  }
  void aLooseOutlineBecomesTheSubject() {
    test::Noise noise(12);
    const QTemporaryDir folder;
    const std::string file = folder.filePath(QStringLiteral("vase.png")).toStdString();
    QVERIFY(
        image::writeTiled(file, test::picture(kW, kH, 3, [&](int x, int y, int c) { return colourAt(x, y, c, noise); })).ok());
    test::Window w;
    w.workspace().newScene({kW, kH});
    w.open({QString::fromStdString(file)});
    w.goTo(test::kCutOut);
    w.openPage("outline");
    w.find<QCheckBox>(QStringLiteral("the outline becomes the subject inside it"))->click();
    w.drag(
        Qt::LeftButton,
        {{430, 130}, {690, 180}, {700, 380}, {680, 500}, {600, 610}, {360, 610}, {290, 470}, {330, 330}, {420, 230}, {430, 130}});
    w.settle();
    const Errors snapped = against(w.desk().session.activeLayer()->picture()->cutout->selection);
    qInfo("snapped %.3f", snapped.overlap);
    QVERIFY2(snapped.overlap > 0.9, qPrintable(QString::number(snapped.overlap)));
  }
};
HSEAM_TEST(CutByPointerTest);
#include "cut_by_pointer_test.moc"
