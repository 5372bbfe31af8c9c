#include "core/frames/lamps.h"

#include <cmath>

#include "core/image/transfer.h"
#include "pictures.h"
#include "test_main.h"

using namespace hseam;

namespace {

constexpr base::Size kRoom{400, 300};

// A room by its light: what it has by itself, and three lamps (the third adds nothing).
double roomLight(double x, double y, int c) {
  return 0.04 + 0.02 * std::sin(0.11 * x + 0.05 * y + c);
}
double lampLight(int lamp, double x, double y, int c) {
  if (lamp == 2) return 0;
  const double u = (x - (lamp == 0 ? 80 : 320)) / 60, v = (y - (lamp == 0 ? 60 : 230)) / 50;
  const double colour[2][3] = {{1.0, 0.7, 0.4}, {0.5, 0.8, 1.0}};
  return 0.35 * colour[lamp][c] * std::exp(-(u * u + v * v));
}
double shownLight(const std::vector<double>& strengths, double x, double y, int c) {
  double sum = roomLight(x, y, c);
  for (std::size_t k = 0; k < strengths.size(); ++k) sum += strengths[k] * lampLight(int(k), x, y, c);
  return std::clamp(sum, 0.0, 1.0);
}
image::TiledImage room(const std::vector<double>& strengths) {
  return test::must(image::tiledFromRows(
      kRoom, image::PixelFormat::rgb16, test::memory(), test::here(), {},
      [&](int first, int count, std::byte* rows) -> base::Status {
        auto* out = reinterpret_cast<std::uint16_t*>(rows);
        for (int i = 0; i < count * kRoom.width * 3; ++i) {
          const int x = i / 3 % kRoom.width, y = first + i / 3 / kRoom.width;
          out[i] = std::uint16_t(std::lround(65535 * image::encodedFromLinear(shownLight(strengths, x, y, i % 3))));
        }
        return {};
      }));
}

}  // namespace

class LampsTest : public QObject {
  Q_OBJECT
  const std::vector<frames::Frame> frames_{{room({0, 0, 0})}, {room({1, 0, 0})}, {room({0, 1, 0})}, {room({0, 0, 1})}};

 private slots:
  void lightAddsUp() {
    const std::vector<frames::Lamp> lamps{{0.5}, {1.7, {1.2, 0.9, 0.6}}, {1}};
    const auto lit = test::must(frames::litBy(frames_, lamps, test::here(), {}));
    const auto read = test::must(image::readFloat(lit, 0, base::Rect::of(kRoom)));
    for (int y = 3; y < kRoom.height; y += 17) {
      for (int x = 2; x < kRoom.width; x += 13) {
        for (int c = 0; c < 3; ++c) {
          const double tint = lamps[1].tint[std::size_t(c)];
          const double truth =
              std::clamp(roomLight(x, y, c) + 0.5 * lampLight(0, x, y, c) + 1.7 * tint * lampLight(1, x, y, c), 0.0, 1.0);
          QVERIFY2(std::abs(double(read.at(x, y)[c]) - image::encodedFromLinear(truth)) < 2e-4,
                   qPrintable(QStringLiteral("%1 %2: %3 for %4").arg(x).arg(y).arg(double(read.at(x, y)[c])).arg(truth)));
        }
      }
    }
  }
  void whatEachLightsIsMeasured() {
    const auto what = test::must(frames::whatLights(frames_));
    QCOMPARE(what.frames.size(), std::size_t(3));
    QVERIFY(std::abs(what.frames[0].brightest.x - 80.0 / 400) < 0.02 && std::abs(what.frames[0].brightest.y - 60.0 / 300) < 0.02);
    QVERIFY(std::abs(what.frames[1].brightest.x - 320.0 / 400) < 0.02 &&
            std::abs(what.frames[1].brightest.y - 230.0 / 300) < 0.02);
    QCOMPARE(what.frames[2].share, 0.0);
    QVERIFY(std::abs(what.frames[0].colour[0] - 1.0 / 0.7) < 0.03 && std::abs(what.frames[0].colour[2] - 0.4 / 0.7) < 0.03);
    // By the same rule from the light itself, at the measured level's pixels.
    double share = 0, unlit = 0;
    for (int y = 0; y < kRoom.height; ++y) {
      for (int x = 0; x < kRoom.width; ++x) {
        const auto luma = [&](const std::vector<double>& s) {
          return 0.2126 * shownLight(s, x, y, 0) + 0.7152 * shownLight(s, x, y, 1) + 0.0722 * shownLight(s, x, y, 2);
        };
        const auto lit = [&](const std::vector<double>& s) {
          return luma(s) - luma({0, 0, 0}) >= 0.005 && luma(s) >= luma({0, 0, 0}) * std::exp2(0.1);
        };
        share += lit({1, 0, 0});
        unlit += !lit({1, 0, 0}) && !lit({0, 1, 0});
      }
    }
    const double all = double(kRoom.width) * kRoom.height;
    QVERIFY(std::abs(what.frames[0].share - share / all) < 0.01);
    double dark = 0;
    for (const std::uint8_t v : what.unlit.samples()) dark += v;
    QVERIFY(std::abs(dark / double(what.unlit.pixels()) - unlit / all) < 0.015);
  }
  void wrongLampsAreRefused() { QCOMPARE(frames::litBy(frames_, {{1}}, test::here(), {}).error().code, base::Code::invalid); }
};
HSEAM_TEST(LampsTest);
#include "lamps_test.moc"
