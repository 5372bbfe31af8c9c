#include "app/canvas/screen_tiles.h"

#include <QSignalSpy>

#include "core/render/scenes.h"

using namespace hseam;
using namespace hseam::app;

class ScreenTilesTest : public QObject {
  Q_OBJECT
  static scene::Scene threeByTwo() {
    scene::Scene s;
    s.canvas = {768, 512};
    s.layers = {test::ref(test::pictureLayer(1, test::colours(768, 512, 1))),
                test::ref(test::pictureLayer(2, test::colours(40, 40, 5), 300, 100))};
    return s;
  }

 private slots:
  void onlyWhatIsLookedAtIsRendered() {
    ScreenTiles tiles;
    QSignalSpy arrived(&tiles, &ScreenTiles::arrived);
    tiles.show(threeByTwo(), {});
    tiles.want(0, QRect(QPoint(1, 0), QPoint(2, 0)));
    QTRY_VERIFY(tiles.settled());
    QCOMPARE(arrived.size(), 2);
    QVERIFY(tiles.tile(0, {1, 0}) && tiles.tile(0, {2, 0}) && !tiles.tile(0, {0, 0}));
    QCOMPARE(tiles.tile(0, {1, 0})->size(), QSize(256, 256));
  }
  void anEditRenewsOnlyTheTilesItReaches() {
    ScreenTiles tiles;
    const scene::Scene before = threeByTwo();
    tiles.show(before, {});
    tiles.want(0, QRect(0, 0, 3, 2));
    QTRY_VERIFY(tiles.settled());
    QSignalSpy arrived(&tiles, &ScreenTiles::arrived);
    const scene::Scene after = test::must(scene::apply(before, scene::SetOpacity{{2}, 0.3}));
    const QImage old = *tiles.tile(0, {1, 0});
    tiles.show(after, {});
    QVERIFY(!tiles.settled());
    QVERIFY(tiles.tile(0, {1, 0}) != nullptr);  // the old one stays until the new one comes
    QTRY_VERIFY(tiles.settled());
    QCOMPARE(arrived.size(), 1);
    QCOMPARE(arrived[0][1].toPoint(), QPoint(1, 0));
    QVERIFY(*tiles.tile(0, {1, 0}) != old);
  }
  void nothingChangedNothingRendered() {
    ScreenTiles tiles;
    const scene::Scene s = threeByTwo();
    tiles.show(s, {});
    tiles.want(0, QRect(0, 0, 3, 2));
    QTRY_VERIFY(tiles.settled());
    QSignalSpy arrived(&tiles, &ScreenTiles::arrived);
    tiles.show(test::must(scene::apply(s, scene::SetName{{2}, "other"})), {});
    QTRY_VERIFY(tiles.settled());
    tiles.want(0, QRect(0, 0, 2, 2));
    QTest::qWait(30);
    QCOMPARE(arrived.size(), 0);
  }
  void theLatestSceneWins() {
    ScreenTiles tiles;
    scene::Scene s = threeByTwo();
    tiles.show(s, {});
    tiles.want(0, QRect(0, 0, 3, 2));
    for (int i = 0; i < 40; ++i) {
      s = test::must(scene::apply(s, scene::SetOpacity{{2}, i / 39.0}));
      tiles.show(s, {});
      if (i % 7 == 0) QTest::qWait(3);
    }
    QTRY_VERIFY(tiles.settled());
    render::Renderer renderer;
    const QImage expected = toScreen(test::must(renderer.render(s, {256, 0, 256, 256}, 0, test::here())), 256, 0, {});
    QCOMPARE(*tiles.tile(0, {1, 0}), expected);
  }
  void anotherViewRenewsAll() {
    ScreenTiles tiles;
    tiles.show(threeByTwo(), {});
    tiles.want(1, QRect(0, 0, 2, 1));
    QTRY_VERIFY(tiles.settled());
    View grey;
    grey.eyes = Eyes::grey;
    tiles.show(threeByTwo(), grey);
    QVERIFY(!tiles.settled());
    QTRY_VERIFY(tiles.settled());
    const QRgb c = tiles.tile(1, {0, 0})->pixel(20, 20);
    QVERIFY(qRed(c) == qGreen(c) && qGreen(c) == qBlue(c));
  }
};
HSEAM_TEST(ScreenTilesTest);
#include "screen_tiles_test.moc"
