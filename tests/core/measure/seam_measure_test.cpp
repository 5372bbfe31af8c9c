// Readings across a seam.

#include <opencv2/imgproc.hpp>

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/measure/banding.h"
#include "core/measure/exposure.h"
#include "core/measure/grain.h"
#include "core/measure/halo.h"
#include "core/measure/jaggedness.h"
#include "core/measure/light_direction.h"
#include "core/measure/maps.h"
#include "core/measure/seam_change.h"
#include "core/measure/seam_detail.h"
#include "core/measure/sharpness.h"
#include "core/measure/tones.h"
#include "made.h"

using namespace hseam;
using namespace hseam::measure;
using namespace hseam::test;

class SeamMeasureTest : public QObject {
  Q_OBJECT

 private slots:
  // On rough texture that goes on beyond the cut, a rim that is so much lighter is read as that; without one, none.
  void halosAreReadAcrossASeamThatGoesOn() {
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0, 0.02);
    // Lumps of a few px and grain.
    cv::Mat lumps(300, 300, CV_32F);
    for (float& v : cv::Mat_<float>(lumps)) v = float(noise(random));
    cv::GaussianBlur(lumps, lumps, {}, 3);
    Raster scene = made(300, 300, [&](double x, double y, int c) {
      return 0.45 + 0.05 * c + 25 * double(lumps.at<float>(int(y), int(x))) + noise(random);
    });
    for (const double lighter : {0.0, 4.0, -6.0, 9.0}) {
      Raster own = scene;
      double moved = 0;
      int n = 0;
      image::Lab middle{0, 0, 0};
      for (int y = 0; y < 300; ++y) {
        for (int x = 0; x < 300; ++x) {
          float* p = own.at(x, y);
          p[3] = float(0.5 * std::erfc((std::hypot(x - 149.5, y - 149.5) - 90) / 1.2 / std::sqrt(2)));
          if (p[3] > 0.97f || p[3] <= 0) continue;
          const image::Lab before = image::labFromEncoded({double(p[0]), double(p[1]), double(p[2])});
          // The same step of lightness for the three channels, by search.
          double low = -0.4, high = 0.4;
          for (int k = 0; k < 30; ++k) {
            const double by = (low + high) / 2;
            const double l = image::labFromEncoded({double(p[0]) + by, double(p[1]) + by, double(p[2]) + by}).l;
            (l < before.l + lighter ? low : high) = by;
          }
          for (int c = 0; c < 3; ++c) p[c] += float(low);
          if (p[3] < 0.25f || p[3] > 0.9f) continue;
          moved += image::labFromEncoded({double(p[0]), double(p[1]), double(p[2])}).l - before.l;
          middle.l += before.l, middle.a += before.a, middle.b += before.b;
          ++n;
        }
      }
      const Halo h = haloAcross(own, scene, outlineOf(own));
      QVERIFY(h.size.available);
      QVERIFY2(std::abs(h.l - moved / n) < 0.5, qPrintable(QStringLiteral("%1 of %2").arg(h.l).arg(moved / n)));
      const double l = middle.l / n,
                   e = image::deltaE2000({l, middle.a / n, middle.b / n}, {l + lighter, middle.a / n, middle.b / n});
      QVERIFY2(std::abs(h.size.value - e) < 0.6, qPrintable(QStringLiteral("%1 of %2").arg(h.size.value).arg(e)));
    }
  }
  // White noise alone is told; texture beside it in most squares does not hide it.
  void theMostThatNoiseCanBeIsReadFromTheCalmest() {
    std::mt19937 random(3);
    std::normal_distribution<double> noise(0, 1);
    for (const double sigma : {0.004, 0.02}) {
      std::vector<SeamSquares::Detail> squares(800);
      for (std::size_t i = 0; i < squares.size(); ++i) {
        double sum = 0;
        for (int k = 0; k < 16; ++k) sum += std::pow(sigma * noise(random), 2) / 16;
        squares[i].diagonal = float(sum);
      }
      const double alone = mostNoise(squares);
      QVERIFY2(std::abs(alone / sigma - 1) < 0.05, qPrintable(QString::number(alone / sigma)));
      for (std::size_t i = 0; i < squares.size(); i += 2) squares[i].diagonal += 0.01f;
      QVERIFY2(mostNoise(squares) / sigma > 0.98 && mostNoise(squares) / sigma < 1.25,
               qPrintable(QString::number(mostNoise(squares) / sigma)));
    }
    QCOMPARE(mostNoise({}), 1.0);
  }
  void changesAcrossASeamAreNamed_data() {
    QTest::addColumn<int>("kind");
    QTest::addColumn<double>("amount");
    QTest::addColumn<double>("blue");
    using Kind = SeamChange::Kind;
    QTest::addRow("nothing") << -1 << 0.0 << 0.0;
    QTest::addRow("lifted blacks") << int(Kind::black) << 0.1 << 0.0;
    QTest::addRow("deeper blacks") << int(Kind::black) << -0.1 << 0.0;
    QTest::addRow("lower whites") << int(Kind::white) << -0.15 << 0.0;
    QTest::addRow("middle") << int(Kind::middle) << 0.5 << 0.0;
    QTest::addRow("warm") << int(Kind::cast) << 0.2 << -0.2;
    QTest::addRow("paler") << int(Kind::saturation) << -0.35 << 0.0;
    QTest::addRow("gaudy") << int(Kind::saturation) << 0.5 << 0.0;
  }
  // A surface of many tones and colours that goes on under a round piece; what was done to the piece is found again, and named.
  void changesAcrossASeamAreNamed() {
    QFETCH(int, kind);
    QFETCH(double, amount);
    QFETCH(double, blue);
    SeamChange done;
    done.kind = SeamChange::Kind(std::max(0, kind));
    done.amount = amount, done.blue = blue;
    // Patches of 30 px and more that differ in light, and in colour.
    const auto patches = [](double sigma, unsigned seed) {
      std::mt19937 random(seed);
      std::normal_distribution<float> any(0, 1);
      cv::Mat m(700, 700, CV_32F);
      for (int y = 0; y < m.rows; ++y) {
        for (int x = 0; x < m.cols; ++x) m.ptr<float>(y)[x] = any(random);
      }
      cv::GaussianBlur(m, m, {}, sigma);
      return cv::Mat(m * (2 * std::sqrt(M_PI) * sigma));
    };
    const cv::Mat light = patches(28, 5), hue = patches(24, 2), tint = patches(24, 3);
    Raster scene = made(700, 700, [&](double x, double y, int c) {
      const int px = int(x), py = int(y);
      const double colour =
          c == 1 ? 0 : 0.05 * double(hue.at<float>(py, px)) + (c == 0 ? 1 : -1) * (0.02 + 0.04 * double(tint.at<float>(py, px)));
      return 0.45 + 0.15 * double(light.at<float>(py, px)) + colour;
    });
    addNoise(scene, 1.5 / 255, 4);
    Raster own = scene;
    for (int y = 0; y < 700; ++y) {
      for (int x = 0; x < 700; ++x) {
        float* p = own.at(x, y);
        p[3] = float(std::clamp(260.5 - std::hypot(x - 350, y - 350), 0.0, 1.0));
        if (kind < 0) continue;
        const auto to = changed(done, {double(p[0]), double(p[1]), double(p[2])});
        for (std::size_t c = 0; c < 3; ++c) p[c] = float(to[c]);
      }
    }
    const AcrossSeam across = acrossSeam(pairsAcross(own, scene, outlineOf(own)));
    QVERIFY(across.surfaceContinues);
    if (kind < 0) {
      QCOMPARE(across.changes.size(), std::size_t(0));
      return;
    }
    QVERIFY(!across.changes.empty());
    QCOMPARE(int(across.changes[0].kind), kind);
    QVERIFY2(std::abs(across.changes[0].amount - amount) < 0.25 * std::abs(amount) + 0.005,
             qPrintable(QString::number(across.changes[0].amount)));
    QVERIFY(std::abs(across.changes[0].blue - blue) < 0.15 * std::abs(blue) + 0.005);
  }
  void focusAndGrainAreComparedAcrossASeam_data() {
    QTest::addColumn<double>("blur");
    QTest::addColumn<double>("noise");
    QTest::addRow("alike") << 0.0 << 0.0;
    for (const double b : {0.6, 1.0, 2.0}) QTest::addRow("blurred by %g px", b) << b << 0.0;
    for (const double n : {1.5, 3.0, 6.0}) QTest::addRow("grain of %g of 255 more", n) << 0.0 << n;
  }
  // On texture: both sides have it, so that it is in nobody's way.
  void focusAndGrainAreComparedAcrossASeam() {
    QFETCH(double, blur);
    QFETCH(double, noise);
    Raster scene = made(400, 400, [](double, double, int) { return 0.5; });
    std::mt19937 random(8);
    std::normal_distribution<float> rough(0, 0.35f);
    cv::Mat texture(400, 400, CV_32F), fine;
    for (int y = 0; y < 400; ++y) {
      for (int x = 0; x < 400; ++x) texture.ptr<float>(y)[x] = rough(random);
    }
    cv::GaussianBlur(texture, fine, {}, 0.8);
    cv::GaussianBlur(texture, texture, {}, 2.5);
    texture = 2 * texture + 0.3 * fine;
    cv::Mat within = texture.clone();
    if (blur > 0) cv::GaussianBlur(within, within, {}, blur);
    Raster own = scene;
    for (int y = 0; y < 400; ++y) {
      for (int x = 0; x < 400; ++x) {
        for (int c = 0; c < 3; ++c) {
          scene.at(x, y)[c] = std::clamp(0.5f + texture.ptr<float>(y)[x], 0.02f, 0.98f);
          own.at(x, y)[c] = std::clamp(0.5f + within.ptr<float>(y)[x], 0.02f, 0.98f);
        }
        own.at(x, y)[3] = float(std::clamp(130.5 - std::hypot(x - 200, y - 200), 0.0, 1.0));
      }
    }
    if (blur <= 0) addNoise(scene, 1.0 / 255, 5);
    if (blur <= 0) addNoise(own, std::hypot(1.0, noise) / 255, 6);
    const auto outline = outlineOf(own);
    const Reading byBlur = blurAcross(own, scene, outline), byNoise = noiseAcross(squaresAcross(own, scene, outline));
    QVERIFY(byBlur.available && byNoise.available);
    if (blur > 0) QVERIFY2(std::abs(byBlur.value - blur) < 0.15 * blur, qPrintable(QString::number(byBlur.value)));
    if (noise > 0) {
      const double read = 255 * std::sqrt(std::max(0.0, byNoise.value));
      QVERIFY2(std::abs(read - noise) < 0.15 * noise, qPrintable(QString::number(read)));
    }
    if (blur <= 0 && noise <= 0) QVERIFY(byBlur.value == 0 && std::abs(byNoise.value) < 3.5 * byNoise.spread);
  }
  void mapsShowGrainAndFocus() {
    Raster flat = made(200, 200, [](double, double, int) { return 0.5; });
    addNoise(flat, 2.0 / 255, 4);
    const auto grain = grainMap(flat);
    double squares = 0;
    for (const float v : grain.samples()) squares += std::pow(double(v) - 0.5, 2);
    // White noise less its binomial mean over 3 × 3 px keeps sqrt(1 − 2/4 + 9/64) of it.
    const double wanted = 12 * 2.0 / 255 * std::sqrt(1 - 0.5 + 9.0 / 64), read = std::sqrt(squares / double(grain.pixels()));
    QVERIFY2(std::abs(read - wanted) < 0.05 * wanted, qPrintable(QString::number(read / wanted)));
    const auto focusOf = [](double sigma) {
      Raster r = made(200, 200, [](double x, double y, int) { return std::fmod(x * 7 + y * 13 + x * y, 97) < 48 ? 0.2 : 0.8; });
      cv::Mat m(200, 200, CV_32FC4, r.samples().data());
      if (sigma > 0) cv::GaussianBlur(m, m, {}, sigma);
      const auto map = focusMap(r);
      double sum = 0;
      for (int y = 40; y < 160; ++y) {
        for (int x = 40; x < 160; ++x) sum += double(*map.at(x, y)) / (120 * 120);
      }
      return sum;
    };
    const double sharp = focusOf(0), middle = focusOf(1.2), soft = focusOf(2.5);
    QVERIFY2(sharp > 0.9 && soft < 0.5 && middle > soft + 0.2 && middle < sharp - 0.15,
             qPrintable(QStringLiteral("%1 %2 %3").arg(sharp).arg(middle).arg(soft)));
    const Raster empty = made(60, 60, [](double, double, int) { return 0.4; });
    QVERIFY(*focusMap(empty).at(30, 30) < 0);
  }
};

HSEAM_TEST(SeamMeasureTest);
#include "seam_measure_test.moc"
