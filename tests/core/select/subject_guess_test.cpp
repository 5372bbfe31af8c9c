#include "core/select/subject_guess.h"

#include "core/select/guided.h"
#include "core/select/shape.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::select;

namespace {

constexpr int kW = 1400, kH = 1000;

// A blob that is not round, in mottled colours on mottled ground, with its true coverage.
double inside(int x, int y) {
  const double a = std::atan2(y - 500.0, x - 700.0), r = std::hypot(x - 700.0, y - 500.0);
  return std::clamp(260 + 60 * std::sin(3 * a) + 25 * std::cos(7 * a) - r + 0.5, 0.0, 1.0);
}

image::TiledImage blob(double noise) {
  test::Noise random(5);
  return test::picture(kW, kH, 3, [&](int x, int y, int c) {
    const double subject[3] = {170 + 30 * std::sin(x / 23.0), 70 + 20 * std::sin(y / 31.0), 60},
                 ground[3] = {90 + 25 * std::sin(x / 90.0 + y / 70.0), 110, 120 + 20 * std::cos(y / 50.0)};
    const double a = inside(x, y);
    return a * subject[c] + (1 - a) * ground[c] + noise * (random.unit() - 0.5);
  });
}

// Share of the area of either that both have.
double agreement(const image::TiledImage& guess) {
  const auto g = test::must(image::read8(guess, 0, {0, 0, kW, kH}));
  double both = 0, either = 0;
  for (int y = 0; y < kH; ++y) {
    for (int x = 0; x < kW; ++x) {
      const double a = *g.at(x, y) / 255.0, b = inside(x, y);
      both += std::min(a, b), either += std::max(a, b);
    }
  }
  return both / either;
}

}  // namespace

class SubjectGuessTest : public QObject {
  Q_OBJECT
 private slots:
  void standingAloneIsFoundWithoutABox() {
    const double share = agreement(test::must(guessSubject(blob(30), {}, test::here(), {})));
    QVERIFY2(share > 0.98, qPrintable(QString::number(share)));
  }
  void theEdgeAtFullSizeFollowsThePicture() {
    // Along rows the guessed edge lies within a few px of the true one, though the cut was made at a third of the size.
    const auto guess = test::must(guessSubject(blob(20), {}, test::here(), {}));
    const auto g = test::must(image::read8(guess, 0, {0, 0, kW, kH}));
    std::vector<double> off;
    for (int y = 320; y < 700; y += 5) {
      const auto last = [&](const auto& f) {
        for (int x = kW - 1; x >= 0; --x) {
          if (f(x) >= 0.5) return x;
        }
        return -1;
      };
      off.push_back(std::abs(last([&](int x) { return *g.at(x, y) / 255.0; }) - last([&](int x) { return inside(x, y); })));
    }
    std::sort(off.begin(), off.end());
    QVERIFY2(off[off.size() / 2] <= 1 && off[off.size() * 9 / 10] <= 4,
             qPrintable(QStringLiteral("median %1, 90 %: %2").arg(off[off.size() / 2]).arg(off[off.size() * 9 / 10])));
  }
  void aBoxKeepsOthersOut() {
    // Two discs of one colour: without a box both, with a box the one inside.
    const auto two = test::picture(800, 500, 3, [](int x, int y, int c) {
      const bool in = std::hypot(x - 200, y - 250) < 90 || std::hypot(x - 600, y - 250) < 90;
      return in ? (c == 0 ? 200 : 60) : (c == 2 ? 150 : 90) + (x * 7 + y * 3) % 9;
    });
    GuessOptions o;
    o.box = base::Rect{80, 130, 250, 250};
    const auto guess = test::must(guessSubject(two, o, test::here(), {}));
    QCOMPARE(int(*test::must(image::read8(guess, 0, {200, 250, 1, 1})).at(0, 0)), 255);
    QCOMPARE(int(*test::must(image::read8(guess, 0, {600, 250, 1, 1})).at(0, 0)), 0);
  }
  void hintsCorrectAGuess() {
    const auto picture = blob(30);
    const auto first = test::must(guessSubject(picture, {}, test::here(), {}));
    // "This corner is subject, the middle is not": both must be obeyed.
    GuessOptions o;
    o.previous = first;
    o.hints = image::uniformCoverage({kW, kH}, kHintNothing, test::memory());
    o.hints = test::must(
        image::withPixels(o.hints, {680, 480, 60, 60}, image::Raster<std::uint8_t>(60, 60, 1, kHintBackground), test::here()));
    o.hints = test::must(
        image::withPixels(o.hints, {1200, 820, 80, 60}, image::Raster<std::uint8_t>(80, 60, 1, kHintSubject), test::here()));
    const auto corrected = test::must(guessSubject(picture, o, test::here(), {}));
    QVERIFY(int(*test::must(image::read8(first, 0, {710, 510, 1, 1})).at(0, 0)) > 200);
    QVERIFY(int(*test::must(image::read8(corrected, 0, {710, 510, 1, 1})).at(0, 0)) < 60);
    QVERIFY(int(*test::must(image::read8(corrected, 0, {1240, 850, 1, 1})).at(0, 0)) > 200);
  }
  void sameInputSameGuess() {
    const auto a = test::must(guessSubject(blob(30), {}, test::here(), {}));
    const auto pool = base::makePool(3);
    const auto b = test::must(guessSubject(blob(30), {}, *pool, {}));
    QVERIFY(test::must(image::read8(a, 0, {0, 0, kW, kH})).samples() == test::must(image::read8(b, 0, {0, 0, kW, kH})).samples());
  }
  void nothingToFindIsSaid() {
    const auto flat = test::picture(300, 200, 3, [](int, int, int) { return 120; });
    const auto guess = guessSubject(flat, {}, test::here(), {});
    QVERIFY(!guess.ok());
    QCOMPARE(guess.error().code, base::Code::invalid);
    QVERIFY(guess.error().detail.find("hint") != std::string::npos);
  }
  void stoppingStops() {
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(guessSubject(blob(10), {}, test::here(), base::Progress(stop.get_token())).error().code, base::Code::cancelled);
  }
  void tinyPicturesAreTaken() {
    const auto small =
        test::picture(24, 20, 3, [](int x, int y, int c) { return std::hypot(x - 12, y - 10) < 5 ? (c == 0 ? 220 : 30) : 120; });
    const auto guess = test::must(guessSubject(small, {}, test::here(), {}));
    QVERIFY(int(*test::must(image::read8(guess, 0, {12, 10, 1, 1})).at(0, 0)) > 128);
    QVERIFY(int(*test::must(image::read8(guess, 0, {1, 1, 1, 1})).at(0, 0)) < 128);
  }
};
HSEAM_TEST(SubjectGuessTest);

class GuidedFilterTest : public QObject {
  Q_OBJECT
 private slots:
  void aLinearFunctionOfTheGuideComesBack() {
    // Where values = a · guide + b in every window and eps is small, the filter changes nothing.
    image::Raster<float> guide(60, 50, 3), values(60, 50);
    test::Noise noise(2);
    for (int y = 0; y < 50; ++y) {
      for (int x = 0; x < 60; ++x) {
        for (int c = 0; c < 3; ++c) guide.at(x, y)[c] = float(noise.unit());
        *values.at(x, y) = 0.2f + 0.3f * guide.at(x, y)[0] - 0.1f * guide.at(x, y)[1] + 0.25f * guide.at(x, y)[2];
      }
    }
    const auto out = guidedFilter(guide, values, 4, 1e-7);
    for (int y = 0; y < 50; ++y) {
      for (int x = 0; x < 60; ++x) QVERIFY(std::abs(*out.at(x, y) - *values.at(x, y)) < 2e-4f);
    }
  }
  void aFlatGuideGivesTheMean() {
    image::Raster<float> guide(40, 40, 3, 0.5f), values(40, 40);
    for (int y = 0; y < 40; ++y) {
      for (int x = 0; x < 40; ++x) *values.at(x, y) = (x + y) % 2 ? 1.f : 0.f;
    }
    const auto out = guidedFilter(guide, values, 3, 1e-3);
    QVERIFY(std::abs(*out.at(20, 20) - 0.5f) < 0.02f);
  }
};
HSEAM_TEST(GuidedFilterTest);
#include "subject_guess_test.moc"
