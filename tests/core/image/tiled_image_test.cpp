#include "core/image/tiled_image.h"
#include "core/image/transfer.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::image;

class TiledImageTest : public QObject {
  Q_OBJECT
 private slots:
  void whatGoesInComesOut() {
    const auto r = test::raster(600, 301, 3, [](int x, int y, int c) { return (x * 7 + y * 13 + c * 31) % 256; });
    const TiledImage image = test::picture(r);
    QCOMPARE(image.levelCount(), 3);
    QCOMPARE(image.level(1).size, base::Size({300, 151}));
    const auto back = test::must(read8(image, 0, {0, 0, 600, 301}));
    QVERIFY(back.samples() == r.samples());
  }
  void outsideRepeatsTheEdge() {
    const TiledImage image = test::picture(10, 8, 1, [](int x, int y, int) { return x * 10 + y; });
    const auto r = test::must(read8(image, 0, {-3, -2, 20, 14}));
    QCOMPARE(int(*r.at(0, 0)), 0);
    QCOMPARE(int(*r.at(19, 13)), 97);
    QCOMPARE(int(*r.at(5, 13)), 27);
    const auto away = test::must(read8(image, 0, {50, 3, 4, 2}));
    QCOMPARE(int(*away.at(0, 0)), 93);
    QCOMPARE(int(*away.at(3, 1)), 94);
  }
  void levelsAverageLight() {
    // Black and white columns mix to the encoded value of half the light, 188, not to 128.
    const TiledImage stripes = test::picture(512, 512, 3, [](int x, int, int) { return x % 2 ? 255 : 0; });
    QCOMPARE(int(*test::must(read8(stripes, 1, {100, 100, 1, 1})).at(0, 0)), 188);
    // Coverage mixes as it is.
    const TiledImage coverage = test::picture(512, 512, 1, [](int x, int, int) { return x % 2 ? 255 : 0; });
    QCOMPARE(int(*test::must(read8(coverage, 1, {100, 100, 1, 1})).at(0, 0)), 128);
  }
  void levelsWeighColourByAlpha() {
    // Red where opaque, green where empty: no green may leak.
    const TiledImage image = test::picture(512, 512, 4, [](int x, int, int c) {
      const bool opaque = x % 2 == 0;
      return c == 3 ? (opaque ? 255 : 0) : ((c == 0) == opaque && c != 2 ? 255 : 0);
    });
    const auto px = test::must(read8(image, 1, {7, 7, 1, 1}));
    QCOMPARE(int(px.at(0, 0)[0]), 255);
    QCOMPARE(int(px.at(0, 0)[1]), 0);
    QCOMPARE(int(px.at(0, 0)[3]), 128);
  }
  void oddSizesHalveWithoutForeignPixels() {
    const TiledImage white = test::picture(1027, 517, 3, [](int, int, int) { return 255; });
    for (int n = 0; n < white.levelCount(); ++n) {
      const base::Size s = white.level(n).size;
      QCOMPARE(int(*test::must(read8(white, n, {s.width - 1, s.height - 1, 1, 1})).at(0, 0)), 255);
    }
  }
  void editingOneTileSharesTheRest() {
    const TiledImage before = test::picture(1024, 1024, 1, [](int x, int y, int) { return (x ^ y) & 255; });
    const Raster<std::uint8_t> patch(3, 3, 1, 200);
    const TiledImage after = test::must(withPixels(before, {300, 300, 3, 3}, patch, test::here()));
    int shared = 0;
    for (int r = 0; r < 4; ++r) {
      for (int c = 0; c < 4; ++c) shared += before.level(0).tile(c, r) == after.level(0).tile(c, r);
    }
    QCOMPARE(shared, 15);
    QCOMPARE(before.level(0).rowRefs[0], after.level(0).rowRefs[0]);
    QCOMPARE(differenceOf(before, after), base::Rect({300, 300, 3, 3}));
    QCOMPARE(int(*test::must(read8(before, 0, {301, 301, 1, 1})).at(0, 0)), 0);
    QCOMPARE(int(*test::must(read8(after, 0, {301, 301, 1, 1})).at(0, 0)), 200);
    // The levels follow: 300..302 touches the px 75 of level 2 with 9 of 16 px.
    const int expected = int(*test::must(read8(after, 2, {75, 75, 1, 1})).at(0, 0));
    QVERIFY2(expected > 110 && expected < 120, qPrintable(QString::number(expected)));
  }
  void wideSamplesKeepTheirDepth() {
    const auto image = test::must(tiledFromRows({300, 300}, PixelFormat::rgb16, test::memory(), test::here(), {},
                                                [](int first, int count, std::byte* rows) -> base::Status {
                                                  auto* px = reinterpret_cast<std::uint16_t*>(rows);
                                                  for (int i = 0; i < count * 300 * 3; ++i)
                                                    px[i] = std::uint16_t(first * 100 + i % 997);
                                                  return {};
                                                }));
    const auto f = test::must(readFloat(image, 0, {3, 257, 1, 1}));
    QCOMPARE(f.at(0, 0)[1], float(256 * 100 + (300 * 3 + 10) % 997) / 65535.f);
  }
  void cancelledWorkReturnsNothing() {
    std::stop_source stop;
    stop.request_stop();
    const auto made = tiledFromRows({300, 300}, PixelFormat::grey8, test::memory(), test::here(),
                                    base::Progress(stop.get_token()), [](int, int, std::byte*) -> base::Status { return {}; });
    QCOMPARE(made.error().code, base::Code::cancelled);
  }
  void levelsThatDoNotFitAreRefused() {
    const TiledImage image = test::picture(600, 300, 1, [](int, int, int) { return 1; });
    std::vector<TiledImage::Level> levels = {image.level(0), image.level(2)};
    QCOMPARE(TiledImage::fromLevels(PixelFormat::grey8, levels, test::memory()).error().code, base::Code::corrupt);
    QCOMPARE(
        TiledImage::fromLevels(PixelFormat::rgb8, {image.level(0), image.level(1), image.level(2)}, test::memory()).error().code,
        base::Code::corrupt);
  }
};
HSEAM_TEST(TiledImageTest);
#include "tiled_image_test.moc"
