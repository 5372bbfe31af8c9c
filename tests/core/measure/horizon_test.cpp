#include "core/measure/horizon.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "core/base/geometry.h"
#include "test_main.h"

using namespace hseam;

// Lines of a floor and of walls drawn by a known camera.
class HorizonTest : public QObject {
  Q_OBJECT

  struct Line {
    base::Point from, to;
  };
  static constexpr int kWidth = 900, kHeight = 600;

  // A level camera at `height`, tilted down by pitch and turned by yaw, rolled; px.
  struct Camera {
    double pitchDeg, yawDeg, rollDeg, focalPx = 900;
    base::Point seen(double x, double y, double z) const {
      const double yaw = yawDeg * M_PI / 180, p = pitchDeg * M_PI / 180, r = rollDeg * M_PI / 180;
      const double u = x * std::cos(yaw) - z * std::sin(yaw), w = x * std::sin(yaw) + z * std::cos(yaw);
      const double v = y * std::cos(p) + w * std::sin(p), d = w * std::cos(p) - y * std::sin(p);
      const double px = focalPx * u / d, py = -focalPx * v / d;
      return {kWidth / 2.0 + px * std::cos(r) - py * std::sin(r), kHeight / 2.0 + px * std::sin(r) + py * std::cos(r)};
    }
    // Of the horizon, in the middle column.
    double horizonY() const { return kHeight / 2.0 - focalPx * std::tan(pitchDeg * M_PI / 180) / std::cos(rollDeg * M_PI / 180); }
  };
  static image::Raster<float> drawn(const std::vector<Line>& lines, double noise, unsigned seed) {
    image::Raster<float> out(kWidth, kHeight, 3, 0.6f);
    for (const Line& l : lines) {
      const double dx = l.to.x - l.from.x, dy = l.to.y - l.from.y, length = std::hypot(dx, dy);
      if (length < 1) continue;
      for (int y = 0; y < kHeight; ++y) {
        for (int x = 0; x < kWidth; ++x) {
          const double u = ((x + 0.5 - l.from.x) * dx + (y + 0.5 - l.from.y) * dy) / length,
                       v = std::abs((x + 0.5 - l.from.x) * dy - (y + 0.5 - l.from.y) * dx) / length;
          if (u < 0 || u > length || v > 3) continue;
          const auto dark = float(0.35 * std::clamp(2.5 - v, 0.0, 1.0));
          for (int c = 0; c < 3; ++c) out.at(x, y)[c] = std::min(out.at(x, y)[c], 0.6f - dark);
        }
      }
    }
    std::mt19937 random(seed);
    std::normal_distribution<double> grain(0, noise);
    for (float& v : out.samples()) v = std::clamp(v + float(grain(random)), 0.f, 1.f);
    return out;
  }
  static std::vector<Line> planks(const Camera& c) {
    std::vector<Line> out;
    for (int k = -6; k <= 6; ++k) out.push_back({c.seen(0.7 * k, -1.5, 3), c.seen(0.7 * k, -1.5, 14)});
    return out;
  }

 private slots:
  void planksThatRunAwayTellIt_data() {
    QTest::addColumn<double>("pitch");
    QTest::addColumn<double>("yaw");
    QTest::newRow("looking down") << 8.0 << 0.0;
    QTest::newRow("turned aside") << 3.0 << 14.0;
    QTest::newRow("looking up") << -4.0 << -6.0;
  }
  void planksThatRunAwayTellIt() {
    QFETCH(double, pitch);
    QFETCH(double, yaw);
    const Camera camera{pitch, yaw, 0};
    const auto h = measure::horizonOf(drawn(planks(camera), 0.01, 3));
    QVERIFY2(h.y.available, h.y.reason.c_str());
    QVERIFY2(std::abs(h.y.value - camera.horizonY()) < 5,
             qPrintable(QStringLiteral("%1 for %2").arg(h.y.value).arg(camera.horizonY())));
    QVERIFY(h.y.spread < 6 && h.lines >= 8);
  }
  void twoWallsTellTheTiltAsWell() {
    const Camera camera{-6, 0, 3};
    std::vector<Line> lines;
    // Two walls of a house at a corner, with rows of windows.
    for (int k = 0; k < 9; ++k) {
      const double y = -1.5 + 0.8 * k;
      lines.push_back({camera.seen(0.3, y, 8), camera.seen(-6, y, 13)});
      lines.push_back({camera.seen(0.7, y, 8), camera.seen(7, y, 13)});
    }
    const auto h = measure::horizonOf(drawn(lines, 0.01, 4));
    QVERIFY2(h.y.available, h.y.reason.c_str());
    QVERIFY2(std::abs(h.y.value - camera.horizonY()) < 10,
             qPrintable(QStringLiteral("%1 for %2").arg(h.y.value).arg(camera.horizonY())));
    QVERIFY2(std::abs(h.tiltDeg - 3) < 0.7, qPrintable(QString::number(h.tiltDeg)));
  }
  void twigsAndGrainTellNothing() {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> x(0, kWidth), y(0, kHeight), turn(0, M_PI), length(20, 160);
    std::vector<Line> twigs;
    for (int k = 0; k < 60; ++k) {
      const double a = turn(random), l = length(random);
      const base::Point from{x(random), y(random)};
      twigs.push_back({from, {from.x + l * std::cos(a), from.y + l * std::sin(a)}});
    }
    QVERIFY(!measure::horizonOf(drawn(twigs, 0.01, 5)).y.available);
    const auto empty = measure::horizonOf(drawn({}, 0.03, 6));
    QVERIFY(!empty.y.available && !empty.y.reason.empty());
  }
  void theSamePictureGivesTheSameAnswer() {
    const auto picture = drawn(planks({5, 4, 0}), 0.02, 8);
    const auto a = measure::horizonOf(picture), b = measure::horizonOf(picture);
    QVERIFY(a.y.available && a.y.value == b.y.value && a.y.spread == b.y.spread && a.lines == b.lines);
  }
};

HSEAM_TEST(HorizonTest);
#include "horizon_test.moc"
