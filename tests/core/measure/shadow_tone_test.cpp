// How dark a shadow is, against shadows of known darkness on a textured floor.

#include "core/measure/shadow_tone.h"

#include <QTest>
#include <array>
#include <cmath>

#include "test_main.h"

using namespace hseam;

namespace {

constexpr base::Point kBegins{90, 150}, kEnds{250, 120};
constexpr std::array<double, 3> kLeaves{0.42, 0.47, 0.60};

// Boards of changing tone with dark joints, and a band of shadow, as wide as given, that fades out at its edges.
image::Raster<float> boards(double halfWidth, bool shadow) {
  image::Raster<float> r(340, 240, 4);
  const double dx = kEnds.x - kBegins.x, dy = kEnds.y - kBegins.y, length = std::hypot(dx, dy);
  for (int y = 0; y < r.height(); ++y) {
    for (int x = 0; x < r.width(); ++x) {
      const double along = ((x - kBegins.x) * dx + (y - kBegins.y) * dy) / length,
                   off = std::abs((x - kBegins.x) * dy - (y - kBegins.y) * dx) / length;
      const double inside = shadow && along > 0 && along < length ? std::clamp((halfWidth - off) / 3 + 0.5, 0.0, 1.0) : 0.0;
      const double tone =
          0.55 + 0.05 * std::sin(x / 9.0 + y / 31.0) + 0.03 * ((x * 7 + y * 13) % 5 - 2) / 2 - (y % 40 < 2 ? 0.25 : 0.0);
      for (std::size_t c = 0; c < 3; ++c) r.at(x, y)[c] = float(tone * (1 - inside * (1 - kLeaves[c])));
      r.at(x, y)[3] = 1;
    }
  }
  return r;
}

}  // namespace

class ShadowToneTest : public QObject {
  Q_OBJECT
 private slots:
  void aKnownShadowIsRead() {
    for (const double half : {7.0, 14.0, 26.0}) {
      const auto tone = measure::shadowToneOf(boards(half, true), kBegins, kEnds);
      QVERIFY2(tone.left.available, tone.left.reason.c_str());
      for (std::size_t c = 0; c < 3; ++c)
        QVERIFY2(std::abs(tone.colour[c] - kLeaves[c]) < 0.035, qPrintable(QString("%1: %2").arg(half).arg(tone.colour[c])));
    }
  }
  void aLineThatIsALittleOffReadsTheSame() {
    const auto tone = measure::shadowToneOf(boards(14, true), {kBegins.x + 4, kBegins.y + 3}, {kEnds.x - 6, kEnds.y + 4});
    QVERIFY(tone.left.available);
    for (std::size_t c = 0; c < 3; ++c) QVERIFY(std::abs(tone.colour[c] - kLeaves[c]) < 0.04);
  }
  void whereThereIsNoneItCannotTell() {
    QVERIFY(!measure::shadowToneOf(boards(14, false), kBegins, kEnds).left.available);
    QVERIFY(!measure::shadowToneOf(boards(14, true), kBegins, {kBegins.x + 5, kBegins.y}).left.available);
    const auto outside = measure::shadowToneOf(boards(14, true), {-400, -300}, {-200, -320});
    QVERIFY(!outside.left.available && !outside.left.reason.empty());
  }
};

HSEAM_TEST(ShadowToneTest);
#include "shadow_tone_test.moc"
