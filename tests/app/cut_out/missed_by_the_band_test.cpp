#include <cmath>

#include "app/window.h"
#include "core/image/picture_file.h"

using namespace hseam;

// A selection that runs over the ground: the found band says where, and the view goes there.
class MissedByTheBandTest : public QObject {
  Q_OBJECT

  static double outOfDisc(int x, int y) { return std::hypot(x + 0.5 - 300, y + 0.5 - 220) - 130; }
  // extra: px by which it is too wide on the right.
  static void select(test::Window& w, double extra) {
    const auto selection = test::must(
        image::tiledFromRaster(test::raster(600, 440, 1,
                                            [&](int x, int y, int) {
                                              const double turn = std::atan2(y - 220.0, x - 300.0);
                                              return outOfDisc(x, y) < 4 + extra * std::exp(-turn * turn / 0.25) ? 255 : 0;
                                            }),
                               image::PixelFormat::grey8, w.desk().session.memory(), w.desk().session.executor()));
    QVERIFY(w.desk().session.apply(scene::SetSelection{w.desk().session.active(), selection, "by hand"}));
    w.settle();
  }

 private slots:
  void whereTheSelectionIsWrongIsTold() {
    const QTemporaryDir dir;
    const std::string file = dir.filePath(QStringLiteral("disc.png")).toStdString();
    test::must(image::writeTiled(file, test::picture(600, 440, 3, [](int x, int y, int c) {
                                   const double in[] = {170, 80, 50}, out[] = {110, 130, 150};
                                   return outOfDisc(x, y) < 0 ? in[c] + 12 * std::sin(x * 0.7)
                                                              : out[c] + 10 * std::sin(x * 0.3 + y * 0.2);
                                 })));
    test::Window w;
    w.workspace().newScene({50, 50});
    w.open({QString::fromStdString(file)});
    w.goTo(test::kCutOut);
    select(w, 70);
    w.openPage("band");
    w.click(QStringLiteral("Find the band"));
    const auto told = [&w] {
      return w.labelThatBegins(QStringLiteral("In 2 places the picture's edge")) ||
             w.labelThatBegins(QStringLiteral("In one place the picture's edge"));
    };
    QVERIFY(told());
    const QPoint before = w.at(300, 220);
    QTest::keyClick(&w.get(), Qt::Key_J, Qt::ControlModifier);
    w.settle();
    QVERIFY(w.at(300, 220) != before);
    const QPointF shown = w.canvas().toWidget().inverted().map(QPointF(w.canvas().width() / 2.0, w.canvas().height() / 2.0));
    QVERIFY2(shown.x() > 360 && std::abs(shown.y() - 220) < 140, qPrintable(QString("%1 %2").arg(shown.x()).arg(shown.y())));
    // Mended, it is told no more.
    select(w, 0);
    QVERIFY(!told());
    w.click(QStringLiteral("Find the band"));
    QVERIFY(!told());
  }
};

HSEAM_TEST(MissedByTheBandTest);
#include "missed_by_the_band_test.moc"
