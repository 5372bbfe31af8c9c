#include "core/retouch/lift.h"

#include <cmath>

#include "pictures.h"

using namespace hseam;

namespace {

constexpr int kFloorWide = 320, kFloorHigh = 240;

// Planks with a grain that nothing repeats.
double floorAt(int x, int y, int c) {
  std::uint64_t v = (std::uint64_t(x) * 73856093u) ^ (std::uint64_t(y) * 19349663u);
  v = (v ^ (v >> 13)) * 0x5bd1e995u;
  return 150 + 12 * std::sin(y * 2 * M_PI / 16) + 8 * (double(v >> 8 & 255) / 255 - 0.5) + 10 * c;
}
// What a soft shadow to the right of the ball leaves: 0.55 in its middle.
double shadeAt(int x, int y) {
  const double d = std::hypot((x - 205.0) / 62, (y - 150.0) / 22);
  return 1 - 0.45 / (1 + std::exp((d - 0.8) * 14));
}
double ballAt(int x, int y) {
  return std::clamp(26 - std::hypot(x + 0.5 - 150, y + 0.5 - 130) + 0.5, 0.0, 1.0);
}

}  // namespace

class LiftTest : public QObject {
  Q_OBJECT
 private slots:
  void theFloorComesBackAndTheShadowComesAlong() {
    const auto picture = test::picture(kFloorWide, kFloorHigh, 3, [](int x, int y, int c) {
      const double a = ballAt(x, y);
      return a * (c == 0 ? 200 : 60) + (1 - a) * floorAt(x, y, c) * shadeAt(x, y);
    });
    const auto ball = test::picture(kFloorWide, kFloorHigh, 1, [](int x, int y, int) { return 255 * ballAt(x, y); });
    const auto shade = test::picture(kFloorWide, kFloorHigh, 1, [](int x, int y, int) {
      return std::hypot((x - 205.0) / 90, (y - 150.0) / 36) < 1 ? 255.0 : 0.0;
    });
    const auto got = test::must(retouch::lifted(picture, ball, shade, {5, 1}, test::here(), {}));
    const base::Rect all{0, 0, kFloorWide, kFloorHigh};
    const auto ground = test::must(image::read8(got.ground, 0, all)), left = test::must(image::read8(got.shadow, 0, all)),
               hole = test::must(image::read8(got.hole, 0, all));
    double tone = 0, wrong = 0, n = 0, m = 0, under = 0, underN = 0;
    for (int y = 0; y < kFloorHigh; ++y) {
      for (int x = 0; x < kFloorWide; ++x) {
        if (*hole.at(x, y) == 255) tone += double(ground.at(x, y)[1]) - floorAt(x, y, 1), n += 1;
        const double d = left.at(x, y)[1] / 255.0 - shadeAt(x, y);
        if (ballAt(x, y) == 0 && std::hypot(x - 150, y - 130) > 36 && std::hypot((x - 205.0) / 90, (y - 150.0) / 36) < 0.97)
          wrong += d * d, m += 1;
        if (ballAt(x, y) == 1 && y > 140 && x > 158) under += left.at(x, y)[1] / 255.0, underN += 1;
      }
    }
    // As light as the floor without a shadow: within a level and a half in the mean.
    QVERIFY2(std::abs(tone / n) < 1.5, qPrintable(QString::number(tone / n)));
    QVERIFY2(std::sqrt(wrong / m) < 0.035, qPrintable(QString::number(std::sqrt(wrong / m))));
    // It goes on under the ball, on the side where it falls.
    QVERIFY2(under / underN < 0.9, qPrintable(QString::number(under / underN)));
    // Set down where it was, shadow and floor make the picture again.
    double again = 0, k = 0;
    for (int y = 130; y < 170; ++y) {
      for (int x = 190; x < 260; ++x) {
        again += std::abs(ground.at(x, y)[1] * (left.at(x, y)[1] / 255.0) - floorAt(x, y, 1) * shadeAt(x, y)), k += 1;
      }
    }
    QVERIFY2(again / k < 5, qPrintable(QString::number(again / k)));
  }
  void withoutAShadowThereIsNone() {
    const auto picture = test::picture(kFloorWide, kFloorHigh, 3, floorAt);
    const auto ball = test::picture(kFloorWide, kFloorHigh, 1, [](int x, int y, int) { return 255 * ballAt(x, y); });
    const auto got = test::must(retouch::lifted(picture, ball, {}, {4, 1}, test::here(), {}));
    QVERIFY(got.shadow.isNull() && got.shadowPlace.isNull() && !got.ground.isNull());
    const auto none = image::uniformCoverage({kFloorWide, kFloorHigh}, 0, test::memory());
    QCOMPARE(int(retouch::lifted(picture, none, {}, {}, test::here(), {}).error().code), int(base::Code::invalid));
  }
};
HSEAM_TEST(LiftTest);
#include "lift_test.moc"
