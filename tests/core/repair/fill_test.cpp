#include "core/repair/fill.h"

#include <cmath>

#include "pictures.h"

using namespace hseam;

namespace {

constexpr int kWide = 260, kHigh = 200;

// Planks: a pattern that goes on, with grain that nothing repeats.
double plank(int x, int y, int c, std::uint64_t seed) {
  std::uint64_t v = (std::uint64_t(x) * 73856093u) ^ (std::uint64_t(y) * 19349663u) ^ (seed * 83492791u);
  v = (v ^ (v >> 13)) * 0x5bd1e995u;
  const double grain = double(v >> 8 & 255) / 255 - 0.5;
  const double row = std::sin(y * 2 * M_PI / 20), along = std::sin((x + 3 * (y / 20) * 17) * 2 * M_PI / 34);
  return 110 + 30 * row + 18 * along + 16 * grain + c * 12;
}

image::TiledImage planks() {
  return test::picture(kWide, kHigh, 3, [](int x, int y, int c) { return plank(x, y, c, 1); });
}

image::Raster<std::uint8_t> discAt(double x0, double y0, double r) {
  return test::raster(kWide, kHigh, 1, [=](int x, int y, int) { return std::hypot(x - x0, y - y0) < r ? 255.0 : 0.0; });
}

}  // namespace

class FillTest : public QObject {
  Q_OBJECT
 private slots:
  void aPatternGoesOnThroughTheHole() {
    const auto truth = planks();
    const auto hole = discAt(120, 95, 24);
    // Something stands there that is to go.
    const auto spoilt = test::picture(
        kWide, kHigh, 3, [&](int x, int y, int c) { return *hole.at(x, y) ? (c == 0 ? 250.0 : 10.0) : plank(x, y, c, 1); });
    const auto got = test::must(repair::filled(spoilt, test::picture(hole), {}, test::here(), {}));
    const auto a = test::must(image::read8(truth, 0, {0, 0, kWide, kHigh})),
               b = test::must(image::read8(got, 0, {0, 0, kWide, kHigh})),
               before = test::must(image::read8(spoilt, 0, {0, 0, kWide, kHigh}));
    double sum = 0, n = 0, gradient = 0, gradientTruth = 0;
    for (int y = 0; y < kHigh; ++y) {
      for (int x = 0; x < kWide; ++x) {
        for (int c = 0; c < 3; ++c) {
          if (!*hole.at(x, y)) QVERIFY(a.at(x, y)[c] == b.at(x, y)[c] && before.at(x, y)[c] == b.at(x, y)[c]);
        }
        if (!*hole.at(x, y) || !*hole.at(x + 1, y)) continue;
        const double d = double(a.at(x, y)[1]) - double(b.at(x, y)[1]);
        sum += d * d, ++n;
        gradient += std::abs(double(b.at(x + 1, y)[1]) - double(b.at(x, y)[1]));
        gradientTruth += std::abs(double(a.at(x + 1, y)[1]) - double(a.at(x, y)[1]));
      }
    }
    const double psnr = 10 * std::log10(255 * 255 / (sum / n));
    // Grain that can't be known costs 31 dB; a smooth fill reaches 19, a pattern out of step 16.
    QVERIFY2(psnr > 25, qPrintable(QString::number(psnr)));
    // As grainy as what is around it: a mean of patches has half of that.
    QVERIFY2(gradient > 0.8 * gradientTruth && gradient < 1.2 * gradientTruth,
             qPrintable(QString::number(gradient / gradientTruth)));
  }
  void whereItWasCopiedFromIsTold() {
    const auto hole = discAt(120, 95, 24);
    const auto right = test::picture(kWide, kHigh, 1, [](int x, int, int) { return x > 160 ? 255.0 : 0.0; });
    std::vector<repair::CopiedFrom> pieces;
    const auto got = test::must(repair::filled(planks(), test::picture(hole), {1, right}, test::here(), {}, &pieces));
    QVERIFY(!pieces.empty() && pieces.size() <= 12);
    double sum = 0, last = 1;
    for (const repair::CopiedFrom& p : pieces) {
      sum += p.share;
      QVERIFY(p.share <= last && p.share >= 0.01);
      last = p.share;
      QVERIFY(p.to.width == p.from.width && p.to.height == p.from.height && p.from.right() > 160);
      // What the piece shows is what lies where it was copied from, but for what evens the joint.
      const int dx = p.from.x - p.to.x, dy = p.from.y - p.to.y, x = p.to.x + p.to.width / 2, y = p.to.y + p.to.height / 2;
      if (!*hole.at(x, y)) continue;
      const auto here = test::must(image::read8(got, 0, {x, y, 1, 1})),
                 there = test::must(image::read8(got, 0, {x + dx, y + dy, 1, 1}));
      QVERIFY(std::abs(int(here.at(0, 0)[1]) - int(there.at(0, 0)[1])) < 60);
    }
    QVERIFY2(sum > 0.5 && sum <= 1.0001, qPrintable(QString::number(sum)));
  }
  void onlyWhatIsGivenIsTakenFrom() {
    // Left red, right blue; the hole lies in the red and is filled from the blue.
    const auto two =
        test::picture(kWide, kHigh, 3, [](int x, int y, int c) { return plank(x, y, 0, 2) * (x < 130 ? (c == 0) : (c == 2)); });
    const auto right = test::picture(kWide, kHigh, 1, [](int x, int, int) { return x > 140 ? 255.0 : 0.0; });
    const auto got = test::must(repair::filled(two, test::picture(discAt(60, 100, 20)), {1, right}, test::here(), {}));
    const auto middle = test::must(image::read8(got, 0, {60, 100, 1, 1}));
    QVERIFY2(middle.at(0, 0)[2] > middle.at(0, 0)[0],
             qPrintable(QStringLiteral("%1 %2").arg(middle.at(0, 0)[0]).arg(middle.at(0, 0)[2])));
  }
  void theSameForAnyNumberOfThreads() {
    const auto hole = test::picture(discAt(120, 95, 24));
    const auto pool = base::makePool(4);
    const auto a = test::must(repair::filled(planks(), hole, {}, test::here(), {})),
               b = test::must(repair::filled(planks(), hole, {}, *pool, {}));
    QVERIFY(test::must(image::read8(a, 0, {0, 0, kWide, kHigh})).samples() ==
            test::must(image::read8(b, 0, {0, 0, kWide, kHigh})).samples());
  }
  void twoHolesAndWidePixels() {
    auto hole = discAt(60, 60, 12);
    const auto other = discAt(200, 150, 14);
    for (std::size_t i = 0; i < hole.samples().size(); ++i) hole.samples()[i] |= other.samples()[i];
    const auto wide = test::must(image::tiledFromRows({kWide, kHigh}, image::PixelFormat::rgba16, test::memory(), test::here(),
                                                      {}, [](int first, int count, std::byte* rows) -> base::Status {
                                                        auto* out = reinterpret_cast<std::uint16_t*>(rows);
                                                        for (int y = 0; y < count; ++y) {
                                                          for (int x = 0; x < kWide; ++x) {
                                                            for (int c = 0; c < 3; ++c)
                                                              *out++ = std::uint16_t(257 * plank(x, first + y, c, 3));
                                                            *out++ = std::uint16_t(40000);
                                                          }
                                                        }
                                                        return {};
                                                      }));
    const auto got = test::must(repair::filled(wide, test::picture(hole), {}, test::here(), {}));
    QCOMPARE(int(got.format()), int(image::PixelFormat::rgba16));
    const auto read = test::must(image::readFloat(got, 0, {60, 60, 1, 1}));
    QVERIFY(std::abs(read.at(0, 0)[3] - 40000.f / 65535) < 1e-4f);  // how much it covers stays
  }
  void whatCannotBeFilledSaysSo() {
    const auto all = image::uniformCoverage({kWide, kHigh}, 255, test::memory());
    QCOMPARE(int(repair::filled(planks(), all, {}, test::here(), {}).error().code), int(base::Code::invalid));
    const auto small = image::uniformCoverage({kWide, kHigh - 1}, 255, test::memory());
    QCOMPARE(int(repair::filled(planks(), small, {}, test::here(), {}).error().code), int(base::Code::conflict));
    // Nothing to do is no error.
    const auto none = image::uniformCoverage({kWide, kHigh}, 0, test::memory());
    QCOMPARE(test::must(repair::filled(planks(), none, {}, test::here(), {})).size(), (base::Size{kWide, kHigh}));
  }
};
HSEAM_TEST(FillTest);
#include "fill_test.moc"
