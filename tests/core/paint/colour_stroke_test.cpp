#include "core/paint/colour_stroke.h"

#include "core/image/transfer.h"
#include "pictures.h"

using namespace hseam;

class ColourStrokeTest : public QObject {
  Q_OBJECT
 private slots:
  // Over by Porter and Duff, in light, written a second time.
  void colourIsMixedAsLight() {
    const auto before = test::picture(64, 64, 4, [](int x, int y, int c) { return c == 3 ? (x * 4) : (y * 3 + c * 20) % 256; });
    const auto cover = test::picture(64, 64, 1, [](int, int y, int) { return y * 4; });
    const std::array<double, 3> colour{0.8, 0.4, 0.1};
    const auto out = test::must(paint::laidOn(before, before, cover, colour, false, {0, 0, 64, 64}, test::here()));
    const auto was = test::must(image::read8(before, 0, {0, 0, 64, 64})), is = test::must(image::read8(out, 0, {0, 0, 64, 64}));
    double worst = 0;
    for (int y = 0; y < 64; ++y) {
      for (int x = 0; x < 64; ++x) {
        const double m = y * 4 / 255.0, a = was.at(x, y)[3] / 255.0, alpha = m + a - m * a;
        worst = std::max(worst, std::abs(is.at(x, y)[3] - 255 * alpha));
        if (alpha < 0.02) continue;
        for (int c = 0; c < 3; ++c) {
          const double light = (m * image::linearFromEncoded(colour[std::size_t(c)]) +
                                a * (1 - m) * image::linearFromEncoded(was.at(x, y)[c] / 255.0)) /
                               alpha;
          worst = std::max(worst, std::abs(is.at(x, y)[c] - 255 * image::encodedFromLinear(light)));
        }
      }
    }
    QVERIFY2(worst <= 0.501, qPrintable(QString::number(worst)));
  }
  void erasingTakesCoverageAndLeavesTheRestToTheBit() {
    const auto before = test::picture(96, 96, 4, [](int x, int y, int c) { return (x * 5 + y * 7 + c * 31) % 256; });
    const auto cover = test::picture(96, 96, 1, [](int x, int, int) { return x < 48 ? 255 : 0; });
    const auto out = test::must(paint::laidOn(before, before, cover, {1, 0, 0}, true, {0, 0, 96, 40}, test::here()));
    const auto was = test::must(image::read8(before, 0, {0, 0, 96, 96})), is = test::must(image::read8(out, 0, {0, 0, 96, 96}));
    for (int y = 0; y < 96; ++y) {
      for (int x = 0; x < 96; ++x) {
        for (int c = 0; c < 3; ++c) QCOMPARE(is.at(x, y)[c], was.at(x, y)[c]);
        QCOMPARE(is.at(x, y)[3], x < 48 && y < 40 ? std::uint8_t(0) : was.at(x, y)[3]);
      }
    }
  }
};

HSEAM_TEST(ColourStrokeTest);
#include "colour_stroke_test.moc"
