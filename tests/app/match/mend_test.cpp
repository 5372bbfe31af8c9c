#include <QCheckBox>
#include <QComboBox>
#include <cmath>

#include "app/window.h"
#include "core/render/renderer.h"
#include "test_main.h"

using namespace hseam;

// Copying and mending with the brush, in the window.
class MendTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  // Cloth whose light rises to the right, with a dark fleck.
  static double cloth(int x, int y, int c) {
    return 50 + 0.2 * x + 14 * std::sin(x * 2 * M_PI / 12) * std::sin(y * 2 * M_PI / 12) + 5 * c;
  }
  void begin(test::Window& w) {
    const QString file = dir_.filePath(QStringLiteral("cloth.png"));
    test::must(image::writeTiled(file.toStdString(), test::picture(480, 360, 3, [](int x, int y, int c) {
                                   return std::hypot(x - 320.0, y - 180.0) < 8 ? 5.0 : cloth(x, y, c);
                                 })));
    w.workspace().newScene({50, 50});
    w.open({file});
    w.goTo(test::kMatch);
    w.openPage("mend");
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("40"));
  }
  static image::Raster<float> shown(test::Window& w) {
    return test::must(render::Renderer().render(w.scene(), base::Rect::of(w.scene().canvas), 0, test::here()));
  }
  // Root of the mean square between what is shown about the fleck and the cloth, levels.
  static double off(test::Window& w, double times = 1, int x0 = 320, int y0 = 180) {
    const auto s = shown(w);
    double sum = 0, n = 0;
    for (int y = y0 - 10; y <= y0 + 10; ++y) {
      for (int x = x0 - 10; x <= x0 + 10; ++x) sum += std::pow(255 * double(s.at(x, y)[1]) - times * cloth(x, y, 1), 2), n += 1;
    }
    return std::sqrt(sum / n);
  }
  static void take(test::Window& w, const QString& way) {
    w.find<QComboBox>(QStringLiteral("What the brush does"))->setCurrentText(way);
  }

 private slots:
  void copiedFromAMarkedPlace() {
    test::Window w;
    begin(w);
    // Nothing is painted before a place is marked.
    w.drag(Qt::LeftButton, {{318, 180}, {322, 180}});
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
    w.drag(Qt::RightButton, {{222, 180}, {222, 180}});
    const auto before = w.scene().layers[0];
    w.drag(Qt::LeftButton, {{318, 180}, {320, 180}, {322, 180}});
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY(w.scene().layers[0] == before);  // the picture itself stays as it is
    // 96 px further left the cloth is darker by 19.
    QVERIFY2(std::abs(off(w) - 19.2) < 1.5, qPrintable(QString::number(off(w))));
    // That is seen, and said at once.
    QTRY_VERIFY(w.labelThatBegins(QStringLiteral("At its rim tone steps by -")));
    w.desk().session.undo();
    w.settle();
    QVERIFY(!w.labelThatBegins(QStringLiteral("At its rim")));
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
    w.desk().session.redo();
    w.choose(QStringLiteral("repairs"));
    // The next stroke moves along, and goes on the same painting.
    w.drag(Qt::LeftButton, {{318, 240}, {322, 240}});
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    const auto s = shown(w);
    QVERIFY(std::abs(255 * double(s.at(320, 240)[1]) - cloth(224, 240, 1)) < 1.5);
    // Afresh: from the marked place again, with the pattern where it was there.
    w.find<QCheckBox>(QStringLiteral("each stroke starts afresh"))->setChecked(true);
    w.drag(Qt::LeftButton, {{324, 300}, {324, 300}});
    const double at = 255 * double(shown(w).at(324, 300)[1]);
    QVERIFY2(std::abs(at - cloth(222, 180, 1)) < 1.5, qPrintable(QString::number(at)));
  }
  void theSameTextureTwiceIsMarked() {
    test::Window w;
    begin(w);
    take(w, QStringLiteral("copy and blend the light"));
    w.find<QCheckBox>(QStringLiteral("each stroke starts afresh"))->setChecked(true);
    w.drag(Qt::RightButton, {{222, 180}, {222, 180}});
    w.drag(Qt::LeftButton, {{320, 180}, {320, 180}});
    QVERIFY(!w.labelThatBegins(QStringLiteral("The same texture")) && !w.labelThatBegins(QStringLiteral("At its rim")));
    w.drag(Qt::LeftButton, {{320, 280}, {320, 280}});
    QTRY_VERIFY(w.labelThatBegins(QStringLiteral("The same texture lies in the 2 framed places")));
    // A third one from elsewhere says nothing; taking it back leaves nothing marked.
    w.drag(Qt::RightButton, {{120, 90}, {120, 90}});
    w.drag(Qt::LeftButton, {{400, 90}, {400, 90}});
    QVERIFY(!w.labelThatBegins(QStringLiteral("The same texture")));
    w.desk().session.undo();
    w.settle();
    w.drag(Qt::LeftButton, {{400, 120}, {400, 120}});
    QVERIFY(!w.labelThatBegins(QStringLiteral("The same texture")));
  }
  void inTheLightOfWhereItLies() {
    test::Window w;
    begin(w);
    take(w, QStringLiteral("copy and blend the light"));
    w.drag(Qt::RightButton, {{222, 180}, {222, 180}});
    w.drag(Qt::LeftButton, {{318, 180}, {320, 180}, {322, 180}});
    QCOMPARE(w.scene().layers.size(), std::size_t(2));
    QVERIFY2(off(w) < 1.2, qPrintable(QString::number(off(w))));
    w.desk().session.undo();
    QVERIFY(off(w) > 30);
  }
  void aFleckIsMendedAndTheMendingTakenAway() {
    test::Window w;
    begin(w);
    take(w, QStringLiteral("mend a fleck"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("26"));
    const double flecked = off(w);
    w.drag(Qt::LeftButton, {{319, 180}, {320, 180}, {321, 180}});
    QVERIFY2(off(w) < 7 && flecked > 50, qPrintable(QStringLiteral("%1 of %2").arg(off(w)).arg(flecked)));
    take(w, QStringLiteral("take it away again"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("60"));
    w.drag(Qt::LeftButton, {{318, 180}, {320, 180}, {322, 180}});
    QVERIFY(std::abs(off(w) - flecked) < 2);
    // Kept with the project.
    w.desk().session.undo();
    w.saveAs(dir_.filePath(QStringLiteral("mended.hseam")));
    const auto kept = shown(w);
    test::Window again;
    again.open({dir_.filePath(QStringLiteral("mended.hseam"))});
    QVERIFY(shown(again).samples() == kept.samples());
  }
  void theRightButtonMendsNothing() {
    test::Window w;
    begin(w);
    take(w, QStringLiteral("mend a fleck"));
    w.drag(Qt::RightButton, {{319, 180}, {320, 180}, {321, 180}});
    QCOMPARE(w.scene().layers.size(), std::size_t(1));
    // Copied from one layer alone: an adjustment in between has nothing that could be copied.
    take(w, QStringLiteral("copy"));
    const auto count = w.scene().layers.size();
    scene::Layer adjustment;
    adjustment.id = {5};
    adjustment.name = "even";
    adjustment.content = scene::AdjustmentContent{scene::Curves{{{0, 0}, {1, 1}}, {}, {}, {}}};
    w.desk().session.apply(scene::AddLayer{adjustment, {}, -1});
    w.desk().session.setActive({5});
    w.find<QComboBox>(QStringLiteral("Copied from"))->setCurrentIndex(1);
    w.drag(Qt::RightButton, {{222, 180}, {222, 180}});
    w.drag(Qt::LeftButton, {{318, 180}, {320, 180}, {322, 180}});
    QCOMPARE(w.scene().layers.size(), count + 2);
    QVERIFY2(std::abs(off(w) - 19.2) < 1.5, qPrintable(QString::number(off(w))));
  }
  void strokesWaitForEachOtherAndOneThatIsStoppedHoldsNoneUp() {
    test::Window w;
    begin(w);
    take(w, QStringLiteral("mend a fleck"));
    w.type(w.find<QDoubleSpinBox>(QStringLiteral("size")), QStringLiteral("26"));
    // Two strokes, the second while the first is worked out: both count.
    const auto stroke = [&](int x, int y) {
      const QPoint p = w.at(x, y);
      QTest::mousePress(&w.canvas(), Qt::LeftButton, {}, p);
      QTest::mouseRelease(&w.canvas(), Qt::LeftButton, {}, p);
    };
    const int before = w.desk().session.history().current();
    stroke(320, 180);
    stroke(100, 100);
    w.settle();
    QCOMPARE(w.desk().session.history().current(), before + 2);
    QVERIFY2(off(w) < 7, qPrintable(QString::number(off(w))));
    stroke(200, 300);
    w.desk().jobs.stopAll();
    w.settle();
    QCOMPARE(w.desk().session.history().current(), before + 2);
    stroke(250, 300);
    w.settle();
    QCOMPARE(w.desk().session.history().current(), before + 3);
  }
  void anInstrumentIsPutDownOverADraft() {
    test::Window w;
    begin(w);
    // A draft lies over the scene when another page is opened: putting the brush down drops it.
    w.desk().session.draft(scene::SetOpacity{w.desk().session.active(), 0.5});
    w.openPage("add-adjustment");
    QCOMPARE(w.desk().session.shown().layers[0]->opacity, 1.0);
  }
  void onlyTheLayerBelowAndMirrored() {
    test::Window w;
    begin(w);
    w.find<QComboBox>(QStringLiteral("Copied from"))->setCurrentIndex(1);
    w.find<QCheckBox>(QStringLiteral("mirrored"))->setChecked(true);
    w.drag(Qt::RightButton, {{200, 180}, {200, 180}});
    w.drag(Qt::LeftButton, {{320, 100}, {320, 100}});
    const auto s = shown(w);
    for (const int d : {-9, 0, 9}) {
      const double got = 255 * double(s.at(320 + d, 104)[1]), wanted = (cloth(199 - d, 184, 1) + cloth(200 - d, 184, 1)) / 2;
      QVERIFY2(std::abs(got - wanted) < 4, qPrintable(QStringLiteral("%1: %2, %3").arg(d).arg(got).arg(wanted)));
    }
  }
};
HSEAM_TEST(MendTest);
#include "mend_test.moc"
