// Readings against truth: blurs, grain, casts and tones that were put in.

#include <random>

#include "core/image/lab.h"
#include "core/image/transfer.h"
#include "core/measure/grain.h"
#include "core/measure/outline.h"
#include "core/measure/sharpness.h"
#include "core/measure/tones.h"
#include "pictures.h"

using namespace hseam;
using namespace hseam::measure;

namespace {

using Raster = image::Raster<float>;
using Where = image::Raster<std::uint8_t>;

Raster made(int w, int h, const std::function<double(double, double, int)>& f) {
  Raster r(w, h, 4, 1.f);
  for (int y = 0; y < h; ++y) {
    for (int x = 0; x < w; ++x) {
      for (int c = 0; c < 3; ++c) r.at(x, y)[c] = float(std::clamp(f(x + 0.5, y + 0.5, c), 0.0, 1.0));
    }
  }
  return r;
}
Where all(const Raster& r) {
  return Where(r.width(), r.height(), 1, std::uint8_t(255));
}
void addNoise(Raster& r, double sigma, unsigned seed) {
  std::mt19937 random(seed);
  std::normal_distribution<double> noise(0, sigma);
  for (std::size_t i = 0; i < r.samples().size(); i += 4) {
    const double n = noise(random);
    for (std::size_t c = 0; c < 3; ++c) r.samples()[i + c] = float(std::clamp(double(r.samples()[i + c]) + n, 0.0, 1.0));
  }
}
void round8(Raster& r) {
  for (float& v : r.samples()) v = std::round(v * 255) / 255;
}

}  // namespace

class MeasureTest : public QObject {
  Q_OBJECT
 private slots:
  void blurIsReadWithinATenth_data() {
    QTest::addColumn<double>("sigma");
    QTest::addColumn<double>("turn");
    for (const double s : {0.8, 1.2, 2.0, 3.0, 4.5, 6.0, 8.0}) {
      for (const double t : {0.0, 17.0, 63.0}) QTest::addRow("%g px at %g", s, t) << s << t;
    }
  }
  // A step of 45 L* blurred in lightness; a pixel's own area is part of what is drawn.
  void blurIsReadWithinATenth() {
    QFETCH(double, sigma);
    QFETCH(double, turn);
    const double nx = std::cos(turn * M_PI / 180), ny = std::sin(turn * M_PI / 180), drawn = std::sqrt(sigma * sigma + 1.0 / 12);
    Raster r = made(260, 260, [&](double x, double y, int) {
      const double d = (x - 130) * nx + (y - 130) * ny, l = 30 + 45 * 0.5 * std::erfc(-d / drawn / std::sqrt(2));
      const double y1 = l > 8 ? std::pow((l + 16) / 116, 3) : l * 27 / 24389;
      return image::encodedFromLinear(y1);
    });
    addNoise(r, 0.6 / 255, 7);
    round8(r);
    const Reading read = sharpnessOf({r, all(r)});
    QVERIFY2(read.told, read.why.c_str());
    QVERIFY2(std::abs(read.value / sigma - 1) < 0.1, qPrintable(QString::number(read.value)));
  }
  void noBlurIsToldWithoutEdges() {
    Raster r = made(200, 200, [](double x, double y, int) { return 0.4 + 0.1 * std::sin(x / 40) * std::cos(y / 50); });
    addNoise(r, 1.5 / 255, 3);
    QVERIFY(!sharpnessOf({r, all(r)}).told);
  }
  void grainIsReadWithinATenth_data() {
    QTest::addColumn<double>("sigma");
    for (const double s : {0.5, 1.0, 2.0, 4.0, 8.0}) QTest::addRow("%g", s) << s;
  }
  void grainIsReadWithinATenth() {
    QFETCH(double, sigma);
    Raster r = made(320, 320, [](double x, double y, int c) { return 0.45 + 0.2 * std::sin(x / 60 + c) + 0.1 * y / 320; });
    addNoise(r, sigma / 255, 11);
    round8(r);
    const Reading read = grainLevel(grainOf({r, all(r)}));
    QVERIFY2(read.told && std::abs(255 * read.value / sigma - 1) < 0.1, qPrintable(QString::number(255 * read.value)));
  }
  void grainIsComparedToneByTone() {
    // Twice as much in the darks, half in the lights; a plate without tones in common can't tell.
    const auto ramp = [](double x, double, int) { return 0.1 + 0.8 * x / 512; };
    Raster plate = made(512, 200, ramp), layer = made(512, 200, ramp);
    addNoise(plate, 2.0 / 255, 1);
    addNoise(layer, 3.2 / 255, 2);
    const Reading ratio = grainRatio(grainOf({layer, all(layer)}), grainOf({plate, all(plate)}));
    QVERIFY2(ratio.told && std::abs(ratio.value / 1.6 - 1) < 0.08, qPrintable(QString::number(ratio.value)));
    Raster light = made(200, 200, [](double, double, int) { return 0.95; });
    addNoise(light, 2.0 / 255, 4);
    Raster dark = made(200, 200, [](double, double, int) { return 0.1; });
    addNoise(dark, 2.0 / 255, 5);
    QVERIFY(!grainRatio(grainOf({light, all(light)}), grainOf({dark, all(dark)})).told);
  }
  void textureIsNotTakenForGrain() {
    // Fur: noise that hangs together over three px, far stronger than any grain.
    Raster noise = made(300, 300, [](double, double, int) { return 0.5; });
    addNoise(noise, 0.3, 9);
    Raster r = made(300, 300, [&](double x, double y, int) {
      double sum = 0, weight = 0;
      for (int v = -4; v <= 4; ++v) {
        for (int u = -4; u <= 4; ++u) {
          const int px = std::clamp(int(x) + u, 0, 299), py = std::clamp(int(y) + v, 0, 299);
          const double w = std::exp(-(u * u + v * v) / 4.5);
          sum += w * double(noise.at(px, py)[1]), weight += w;
        }
      }
      return sum / weight;
    });
    const Grain g = grainOf({r, all(r)});
    QVERIFY(std::all_of(g.places.begin(), g.places.end(), [](int n) { return n < 1500; }));
  }
  void tonesAreWhereTheyWerePut() {
    Raster r = made(300, 200, [](double x, double y, int) {
      if (y < 20) return 0.08;
      return y > 185 ? 0.97 : 0.2 + 0.5 * x / 300;
    });
    const Tones t = tonesOf(populationOf({r, all(r)}));
    const auto l = [](double v) { return image::labFromEncoded({v, v, v}).l; };
    QVERIFY(t.black.told && std::abs(t.black.value - l(0.08)) < 0.1);
    QVERIFY(t.white.told && std::abs(t.white.value - l(0.97)) < 0.1);
    QVERIFY(t.mid.told && std::abs(t.mid.value - l(0.45)) < 1.5);
    Raster few = made(10, 10, [](double, double, int) { return 0.5; });
    QVERIFY(!tonesOf(populationOf({few, all(few)})).black.told);
  }
  void lightOfAnotherColourIsRead() {
    const auto surfaces = [](double x, double y, int c) {
      const int i = int(x / 20) * 7 + int(y / 20) * 13;
      return 0.1 + 0.5 * ((i * (c + 3) * 37 % 97) / 97.0) * (0.6 + 0.4 * ((i % 5) / 5.0));
    };
    Raster white = made(400, 300, surfaces);
    const Cast before = illuminantOf({white, all(white)});
    for (const auto& [red, blue] : {std::pair(1.15, 0.9), std::pair(0.9, 1.12), std::pair(1.25, 0.8)}) {
      Raster lit = white;
      for (std::size_t i = 0; i < lit.samples().size(); i += 4) {
        lit.samples()[i] =
            float(image::encodedFromLinear(std::min(1.0, red * image::linearFromEncoded(double(lit.samples()[i])))));
        lit.samples()[i + 2] =
            float(image::encodedFromLinear(std::min(1.0, blue * image::linearFromEncoded(double(lit.samples()[i + 2])))));
      }
      const Cast after = illuminantOf({lit, all(lit)});
      // What a grey of L* 60 becomes in that light.
      const double g = image::linearFromEncoded(0.5663);
      const image::Lab truth =
          image::labFromEncoded({image::encodedFromLinear(red * g), 0.5663, image::encodedFromLinear(blue * g)});
      QVERIFY2(after.told && std::hypot(after.a - before.a - truth.a, after.b - before.b - truth.b) < 1.5,
               qPrintable(
                   QStringLiteral("%1 %2 for %3 %4").arg(after.a - before.a).arg(after.b - before.b).arg(truth.a).arg(truth.b)));
    }
  }
  void theCutsWidthIsRead_data() {
    QTest::addColumn<double>("sigma");
    for (const double s : {0.4, 0.8, 1.5, 3.0}) QTest::addRow("%g", s) << s;
  }
  void theCutsWidthIsRead() {
    QFETCH(double, sigma);
    const double drawn = std::sqrt(sigma * sigma + 1.0 / 12);
    Raster r = made(300, 300, [](double, double, int) { return 0.5; });
    for (int y = 0; y < 300; ++y) {
      for (int x = 0; x < 300; ++x)
        r.at(x, y)[3] = float(0.5 * std::erfc((std::hypot(x - 149.5, y - 149.5) - 90) / drawn / std::sqrt(2)));
    }
    const Reading read = softnessOf(outlineOf(r));
    QVERIFY2(read.told && std::abs(read.value - 2.563 * sigma) < std::max(0.25, 0.1 * 2.563 * sigma),
             qPrintable(QString::number(read.value)));
  }
  void halosAreRankedByTheirStrength() {
    double last = -1;
    for (const double left : {0.0, 0.15, 0.3, 0.5, 0.8, 1.0}) {
      // A blue subject whose edge keeps a share of a white background.
      Raster r(300, 300, 4, 0.f);
      for (int y = 0; y < 300; ++y) {
        for (int x = 0; x < 300; ++x) {
          const double a = 0.5 * std::erfc((std::hypot(x - 149.5, y - 149.5) - 90) / 1.2 / std::sqrt(2));
          const double own[3] = {0.2, 0.3, 0.5};
          for (int c = 0; c < 3; ++c)
            r.at(x, y)[c] = float(image::encodedFromLinear(
                a * image::linearFromEncoded(own[c]) + (1 - a) * (left * 1.0 + (1 - left) * image::linearFromEncoded(own[c]))));
          r.at(x, y)[3] = float(a);
        }
      }
      const Halo h = haloOf(r, outlineOf(r));
      QVERIFY(h.size.told);
      QVERIFY2(h.size.value > last, qPrintable(QStringLiteral("%1 after %2").arg(h.size.value).arg(last)));
      if (left == 0) QVERIFY(h.size.value < 0.5);
      if (left == 0.3) QVERIFY(h.size.value > 3);
      last = h.size.value;
    }
  }
  void loosePiecesAndHolesAreCounted() {
    Raster r(300, 300, 4, 0.f);
    const auto disc = [&](double cx, double cy, double radius, float value) {
      for (int y = 0; y < 300; ++y) {
        for (int x = 0; x < 300; ++x) {
          if (std::hypot(x + 0.5 - cx, y + 0.5 - cy) < radius) r.at(x, y)[3] = value;
        }
      }
    };
    disc(150, 150, 80, 1);
    QVERIFY(leftoversOf(r).empty());
    disc(250, 60, 3, 1);
    disc(40, 250, 5, 1);
    disc(140, 160, 4, 0);
    const auto found = leftoversOf(r);
    QCOMPARE(found.size(), std::size_t(3));
    QVERIFY(std::abs(found[0].areaPx - M_PI * 25) < 8 && !found[0].hole);
    QVERIFY(std::abs(found[1].areaPx - M_PI * 16) < 8 && found[1].hole);
    QVERIFY(std::abs(found[0].awayPx - (std::hypot(110, 100) - 85)) < 3);
  }
};

HSEAM_TEST(MeasureTest);
#include "measure_test.moc"
