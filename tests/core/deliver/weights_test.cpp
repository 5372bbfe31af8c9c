// What a file weighs, what its quality costs, and the best that stays below a weight.
#include "core/deliver/weights.h"

#include <cmath>
#include <random>

#include <QTemporaryDir>

#include "../render/scenes.h"

using namespace hseam;
using namespace hseam::deliver;

namespace {

// A calm sky above; below the left half, leaves.
scene::Scene calmAndBusy(int w, int h) {
  std::mt19937 random(3);
  std::uniform_int_distribution<int> leaf(0, 255);
  image::Raster<std::uint8_t> r(w, h, 3);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      const bool busy = y > h / 2 && x < w / 2;
      for (int c = 0; c < 3; ++c) r.at(x, y)[c] = std::uint8_t(busy ? leaf(random) : 120 + 60 * y / h + 20 * c);
    }
  }
  scene::Scene s;
  s.canvas = {w, h};
  s.layers = {test::ref(
      test::pictureLayer(1, test::must(image::tiledFromRaster(r, image::PixelFormat::rgb8, test::memory(), test::here()))))};
  return s;
}

image::Raster<std::uint8_t> evenGrey(int w, int h, int value) {
  image::Raster<std::uint8_t> r(w, h, 3);
  std::fill(r.samples().begin(), r.samples().end(), std::uint8_t(value));
  return r;
}

}  // namespace

class WeightsTest : public QObject {
  Q_OBJECT
 private slots:
  // Two even pictures differ by their means alone: (2ab + C1) / (a² + b² + C1), by the definition.
  void likenessOfEvenPicturesIsByTheFormula() {
    const auto likeness = test::must(likenessOf(evenGrey(300, 200, 100), evenGrey(300, 200, 140), test::here(), {}));
    const double c1 = 0.01 * 0.01 * 255 * 255, wanted = (2 * 100.0 * 140 + c1) / (100.0 * 100 + 140.0 * 140 + c1);
    QVERIFY2(std::abs(likeness.mean - wanted) < 1e-4, qPrintable(QString::number(likeness.mean)));
    QCOMPARE(likeness.worstAt, (base::Rect{0, 0, 256, 200}));
    const auto same = test::must(likenessOf(evenGrey(40, 30, 7), evenGrey(40, 30, 7), test::here(), {}));
    QVERIFY(same.mean > 1 - 1e-6 && same.worst > 1 - 1e-6);
  }
  // Noise of known variance on an even ground: covariance nothing, so about C2 / (variance + C2).
  void likenessFallsWithNoiseAsTheFormulaSays() {
    std::mt19937 random(1);
    std::normal_distribution<double> noise(0, 12);
    image::Raster<std::uint8_t> noisy = evenGrey(400, 400, 128);
    for (std::size_t i = 0; i < noisy.pixels(); ++i) {
      const auto v = std::uint8_t(std::lround(std::clamp(128 + noise(random), 0.0, 255.0)));
      for (std::size_t c = 0; c < 3; ++c) noisy.samples()[i * 3 + c] = v;
    }
    const double mean = test::must(likenessOf(evenGrey(400, 400, 128), noisy, test::here(), {})).mean;
    const double c2 = 0.03 * 0.03 * 255 * 255, wanted = c2 / (144 + c2);
    QVERIFY2(std::abs(mean - wanted) < 0.06, qPrintable(QStringLiteral("%1 for %2").arg(mean).arg(wanted)));
  }
  // What nobody sees does not count: encoders change the colours of empty places.
  void coloursOfEmptyPlacesDoNotCount() {
    image::Raster<std::uint8_t> a(80, 60, 4), b(80, 60, 4);
    for (std::size_t i = 0; i < a.pixels(); ++i) {
      for (std::size_t c = 0; c < 3; ++c) a.samples()[i * 4 + c] = 20, b.samples()[i * 4 + c] = std::uint8_t(i * 7);
      a.samples()[i * 4 + 3] = b.samples()[i * 4 + 3] = 0;
    }
    QVERIFY(test::must(likenessOf(a, b, test::here(), {})).worst > 1 - 1e-6);
  }
  void theWorstPlaceIsWhereItIs() {
    const scene::Scene s = calmAndBusy(1000, 800);
    const auto picture = test::must(encodable(s, {image::FileKind::jpeg}, test::here(), {}));
    const Trial t = test::must(trialAt(picture, 20, test::here(), {}));
    QVERIFY(t.likeness.worst < t.likeness.mean - 0.1);
    QVERIFY2(t.likeness.worstAt.y >= 384 && t.likeness.worstAt.right() <= 544, "not among the leaves");
    QCOMPARE(t.before.width(), kCropSide);
    const auto own = test::must(likenessOf(t.before, t.after, test::here(), {}));
    QVERIFY(std::abs(own.mean - t.likeness.worst) < 0.01);
    for (int y = 0; y < kCropSide; ++y) {
      for (int i = 0; i < kCropSide * 3; ++i)
        QCOMPARE(t.before.row(y)[i], picture.pixels.at(t.likeness.worstAt.x, t.likeness.worstAt.y + y)[i]);
    }
  }
  void qualityCostsWeightAndIsWorthIt() {
    const auto picture = test::must(encodable(calmAndBusy(600, 500), {image::FileKind::webp}, test::here(), {}));
    std::int64_t last = 0;
    double like = 0;
    for (const int quality : {20, 55, 87, 97}) {
      const Trial t = test::must(trialAt(picture, quality, test::here(), {}));
      QVERIFY(t.bytes > last && t.likeness.mean > like);
      last = t.bytes, like = t.likeness.mean;
    }
  }
  void theBestBelowAWeightIsFoundFromBelow_data() {
    QTest::addColumn<int>("kind");
    QTest::addColumn<int>("kb");
    for (const int kb : {40, 90, 160}) {
      QTest::addRow("jpeg %d", kb) << int(image::FileKind::jpeg) << kb;
      QTest::addRow("webp %d", kb) << int(image::FileKind::webp) << kb;
    }
  }
  void theBestBelowAWeightIsFoundFromBelow() {
    QFETCH(int, kind);
    QFETCH(int, kb);
    const scene::Scene s = calmAndBusy(900, 700);
    ExportOptions o{image::FileKind(kind)};
    const auto picture = test::must(encodable(s, o, test::here(), {}));
    const UnderWeight found = test::must(bestUnder(picture, kb * 1000, {}));
    QVERIFY(found.bytes <= kb * 1000);
    QVERIFY2(found.files <= 8, qPrintable(QString::number(found.files)));
    // Within three in a hundred, or the next step is over.
    if (double(found.bytes) < 0.97 * kb * 1000 && found.quality < 100)
      QVERIFY(test::must(trialAt(picture, found.quality + 1, test::here(), {})).bytes > kb * 1000);
    // What is handed over is what was weighed.
    o.quality = found.quality;
    QCOMPARE(test::must(exportWeight(s, o, test::here(), {})), found.bytes);
  }
  void whatCannotBeIsSaid() {
    const scene::Scene s = calmAndBusy(900, 700);
    const auto picture = test::must(encodable(s, {image::FileKind::jpeg}, test::here(), {}));
    const auto tooLittle = bestUnder(picture, 500, {});
    QVERIFY(!tooLittle.ok() && tooLittle.error().code == base::Code::limitExceeded);
    QVERIFY(QString::fromStdString(tooLittle.error().text()).contains(QStringLiteral("kB")));
    QCOMPARE(encodable(s, {image::FileKind::png}, test::here(), {}).error().code, base::Code::unsupported);
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(bestUnder(picture, 50000, base::Progress(stop.get_token())).error().code, base::Code::cancelled);
  }
};
HSEAM_TEST(WeightsTest);
#include "weights_test.moc"
