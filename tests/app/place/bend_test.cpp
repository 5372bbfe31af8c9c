#include <QAbstractButton>

#include "app/window.h"
#include "core/render/renderer.h"

using namespace hseam;

// A picture bent onto another by corners, grid and tacks; kept, changed again after it was reopened.
class BendTest : public QObject {
  Q_OBJECT
  test::SmallPictures small_;

  static const scene::Warp& warp(test::Window& w) { return *w.desk().session.activeLayer()->picture()->warp; }
  static base::Point toScene(test::Window& w, base::Point p) {
    const auto* c = w.desk().session.activeLayer()->picture();
    const base::Size s = c->source.size();
    return c->placement.toScene(s).map(c->warp ? scene::mapped(*c->warp, s, p) : p);
  }

 private slots:
  void bentInThreeWaysAndAgainAfterReopening() {
    QTemporaryDir dir;
    const QString file = dir.filePath(QStringLiteral("bent.hseam"));
    base::Size size;
    {
      test::Window w;
      w.workspace().newScene({50, 50});
      w.open({small_.ground, small_.subject});
      w.goTo(test::kPlace);
      w.openPage("bend");
      size = w.desk().session.activeLayer()->picture()->source.size();
      const auto drag = [&](base::Point from, double dx, double dy) {
        w.drag(Qt::LeftButton,
               {QPointF(from.x, from.y), QPointF(from.x + dx / 2, from.y + dy / 2), QPointF(from.x + dx, from.y + dy)});
      };
      drag(toScene(w, {0, 0}), 30, 20);
      QVERIFY(std::abs(warp(w).corners[0].x * w.desk().session.activeLayer()->picture()->placement.scale - 30) < 2);
      w.click(QStringLiteral("grid"));
      const base::Point crossing{size.width / 3.0, size.height / 3.0}, was = toScene(w, crossing);
      drag(was, 18, -10);
      const base::Point now = toScene(w, crossing);
      QVERIFY2(std::hypot(now.x - was.x - 18, now.y - was.y + 10) < 2,
               qPrintable(QStringLiteral("%1 %2").arg(now.x - was.x).arg(now.y - was.y)));
      w.click(QStringLiteral("Add a crossing"));
      const base::Point middle = toScene(w, {size.width * 0.5, size.height * 0.5});
      QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(middle.x, middle.y));
      w.settle();
      QCOMPARE(warp(w).columns.size(), std::size_t(5));
      w.click(QStringLiteral("tacks"));
      const base::Point held = toScene(w, {size.width * 0.7, size.height * 0.7});
      drag(held, 0, 0);
      drag(toScene(w, {size.width * 0.25, size.height * 0.6}), 12, 8);
      QCOMPARE(warp(w).tacks.size(), std::size_t(2));
      const base::Point still = toScene(w, {size.width * 0.7, size.height * 0.7});
      QVERIFY(std::hypot(still.x - held.x, still.y - held.y) < 1.5);
      w.saveAs(file);
    }
    test::Window w;
    w.open({file});
    w.choose(QStringLiteral("subject"));
    QCOMPARE(warp(w).tacks.size(), std::size_t(2));
    QCOMPARE(warp(w).columns.size(), std::size_t(5));
    w.goTo(test::kPlace);
    w.openPage("bend");
    w.click(QStringLiteral("grid"));
    w.click(QStringLiteral("Undo this way"));
    QVERIFY(warp(w).grid.empty() && warp(w).tacks.size() == 2 && warp(w).corners.size() == 4);
    w.click(QStringLiteral("Do not bend"));
    QVERIFY(!w.desk().session.activeLayer()->picture()->warp);
    w.desk().session.undo();
    w.settle();
    QCOMPARE(warp(w).corners.size(), std::size_t(4));
    // By keys: the corner taken last is nudged.
    w.click(QStringLiteral("four corners"));
    const base::Point corner = warp(w).corners[2], at = toScene(w, {double(size.width), double(size.height)});
    QTest::mouseClick(&w.canvas(), Qt::LeftButton, {}, w.at(at.x, at.y));
    w.canvas().setFocus();
    QTest::keyClick(&w.canvas(), Qt::Key_Left, Qt::ShiftModifier);
    w.settle();
    QVERIFY(warp(w).corners[2].x < corner.x);
  }
};

HSEAM_TEST(BendTest);
#include "bend_test.moc"
