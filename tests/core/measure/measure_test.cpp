// Readings against truth: blurs, grain, casts and tones that were put in.

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
    const Reading read = sharpnessOf({r, all(r)}).typical;
    QVERIFY2(read.available, read.reason.c_str());
    QVERIFY2(std::abs(read.value / sigma - 1) < 0.1, qPrintable(QString::number(read.value)));
  }
  void noBlurIsToldWithoutEdges() {
    Raster r = made(200, 200, [](double x, double y, int) { return 0.4 + 0.1 * std::sin(x / 40) * std::cos(y / 50); });
    addNoise(r, 1.5 / 255, 3);
    QVERIFY(!sharpnessOf({r, all(r)}).typical.available);
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
    QVERIFY2(read.available && std::abs(255 * read.value / sigma - 1) < 0.1, qPrintable(QString::number(255 * read.value)));
  }
  void grainIsComparedToneByTone() {
    // Twice as much in the darks, half in the lights; a plate without tones in common can't tell.
    const auto ramp = [](double x, double, int) { return 0.1 + 0.8 * x / 512; };
    Raster plate = made(512, 200, ramp), layer = made(512, 200, ramp);
    addNoise(plate, 2.0 / 255, 1);
    addNoise(layer, 3.2 / 255, 2);
    const Reading ratio = grainRatio(grainOf({layer, all(layer)}), grainOf({plate, all(plate)}));
    QVERIFY2(ratio.available && std::abs(ratio.value / 1.6 - 1) < 0.08, qPrintable(QString::number(ratio.value)));
    Raster light = made(200, 200, [](double, double, int) { return 0.95; });
    addNoise(light, 2.0 / 255, 4);
    Raster dark = made(200, 200, [](double, double, int) { return 0.1; });
    addNoise(dark, 2.0 / 255, 5);
    QVERIFY(!grainRatio(grainOf({light, all(light)}), grainOf({dark, all(dark)})).available);
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
    QVERIFY(t.black.available && std::abs(t.black.value - l(0.08)) < 0.1);
    QVERIFY(t.white.available && std::abs(t.white.value - l(0.97)) < 0.1);
    QVERIFY(t.mid.available && std::abs(t.mid.value - l(0.45)) < 1.5);
    Raster few = made(10, 10, [](double, double, int) { return 0.5; });
    QVERIFY(!tonesOf(populationOf({few, all(few)})).black.available);
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
      QVERIFY2(after.available && std::hypot(after.a - before.a - truth.a, after.b - before.b - truth.b) < 1.5,
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
    QVERIFY2(read.available && std::abs(read.value - 2.563 * sigma) < std::max(0.25, 0.1 * 2.563 * sigma),
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
      QVERIFY(h.size.available);
      QVERIFY2(h.size.value > last, qPrintable(QStringLiteral("%1 after %2").arg(h.size.value).arg(last)));
      if (left == 0) QVERIFY(h.size.value < 0.5);
      if (left == 0.3) QVERIFY(h.size.value > 3);
      last = h.size.value;
    }
  }
  // A ball under a light from the viewer darkens towards its limb: that is no halo. What a light background left on it is, and is
  // found although the dark limb hides some of it.
  void shadingTowardsTheLimbIsNoHalo() {
    const auto ball = [](double rim) {
      constexpr double kRadius = 110;
      Raster r = made(300, 300, [&](double x, double y, int) {
        const double far = std::min(1.0, std::hypot(x - 150, y - 150) / kRadius);
        const double light = 0.08 + 0.35 * std::sqrt(1 - far * far);
        const double edge = std::clamp((std::hypot(x - 150, y - 150) - kRadius + 2.5) / 2, 0.0, 1.0);
        return image::encodedFromLinear(light) * (1 - rim * edge) + 0.97 * rim * edge;
      });
      for (int y = 0; y < 300; ++y) {
        for (int x = 0; x < 300; ++x)
          r.at(x, y)[3] = float(std::clamp((kRadius - std::hypot(x + 0.5 - 150, y + 0.5 - 150)) / 2 + 0.5, 0.0, 1.0));
      }
      return haloOf(r, outlineOf(r));
    };
    const Halo clean = ball(0), spoilt = ball(0.3);
    QVERIFY(clean.size.available && spoilt.size.available);
    QVERIFY2(clean.size.value < 2.6, qPrintable(QString::number(clean.size.value)));
    QVERIFY2(spoilt.size.value > 4.5 && spoilt.l > 4.5, qPrintable(QStringLiteral("%1 %2").arg(spoilt.size.value).arg(spoilt.l)));
  }
  // A skin that fades inwards over some px is the subject's own; two px of another ground that were cut out with it are not.
  void aRimOfItsOwnIsNoHalo() {
    const auto disc = [](const std::function<double(double)>& lighterAt) {
      constexpr double kRadius = 110;
      Raster r = made(300, 300, [&](double x, double y, int c) {
        const double depth = kRadius - std::hypot(x + 0.5 - 150, y + 0.5 - 150);
        return (c == 0 ? 0.5 : 0.3) + lighterAt(depth);
      });
      for (int y = 0; y < 300; ++y) {
        for (int x = 0; x < 300; ++x)
          r.at(x, y)[3] = float(std::clamp((kRadius - std::hypot(x + 0.5 - 150, y + 0.5 - 150)) / 2 + 0.5, 0.0, 1.0));
      }
      return haloOf(r, outlineOf(r));
    };
    const Halo skin = disc([](double depth) { return 0.3 * std::exp(-std::max(0.0, depth) / 3); });
    const Halo fringe = disc([](double depth) { return depth < 2 ? 0.3 : 0.0; });
    QVERIFY(skin.size.available && fringe.size.available);
    QVERIFY2(skin.size.value < 3, qPrintable(QString::number(skin.size.value)));
    QVERIFY2(fringe.size.value > 12, qPrintable(QString::number(fringe.size.value)));
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
  // Balls and stones under a lamp: Lambert's law, surroundings, spots of other colours and grain; the angle in the picture is
  // known.
  void theLightsSideIsRead() {
    std::vector<double> errors;
    int told = 0, tried = 0;
    for (int k = 0; k < 16; ++k) {
      for (const double elevation : {15.0, 40.0, 60.0}) {
        const double angle = -170 + 22.5 * k, a = angle * M_PI / 180, e = elevation * M_PI / 180;
        // x right, y down, z to the viewer
        const double lx = std::sin(a) * std::cos(e), ly = -std::cos(a) * std::cos(e), lz = std::sin(e);
        const double rx = 90 + 20 * (k % 3), ry = 110 - 15 * (k % 2);
        Raster r = made(320, 320, [&](double x, double y, int c) {
          const double u = (x - 160) / rx, v = (y - 160) / ry, d = u * u + v * v;
          if (d >= 1) return 0.0;
          double nx = u / rx, ny = v / ry, nz = std::sqrt(1 - d) / 100;
          const double n = std::sqrt(nx * nx + ny * ny + nz * nz);
          nx /= n, ny /= n, nz /= n;
          const double lambert = std::max(0.0, nx * lx + ny * ly + nz * lz);
          const double albedo = 0.45 + 0.12 * std::sin(x / 9 + c) * std::cos(y / 13);
          return image::encodedFromLinear(albedo * (0.25 + 0.75 * lambert));
        });
        for (int y = 0; y < 320; ++y) {
          for (int x = 0; x < 320; ++x) {
            const double d = std::hypot((x + 0.5 - 160) / rx, (y + 0.5 - 160) / ry);
            r.at(x, y)[3] = float(std::clamp((1 - d) * std::min(rx, ry) + 0.5, 0.0, 1.0));
          }
        }
        addNoise(r, 2 / 255.0, unsigned(k));
        ++tried;
        const Reading reading = lightDirectionOf(r, outlineOf(r));
        if (!reading.available) continue;
        ++told;
        errors.push_back(std::abs(std::remainder(reading.value - angle, 360.0)));
      }
    }
    QVERIFY2(told * 10 >= tried * 8, qPrintable(QString::number(told)));
    std::sort(errors.begin(), errors.end());
    QVERIFY2(errors[errors.size() / 2] < 5, qPrintable(QString::number(errors[errors.size() / 2])));
    QVERIFY2(errors[errors.size() * 9 / 10] < 15, qPrintable(QString::number(errors[errors.size() * 9 / 10])));
    // Light from all around has no side.
    Raster flat = made(200, 200, [](double, double, int) { return 0.5; });
    for (int y = 0; y < 200; ++y) {
      for (int x = 0; x < 200; ++x) flat.at(x, y)[3] = std::hypot(x - 100, y - 100) < 70 ? 1.f : 0.f;
    }
    QVERIFY(!lightDirectionOf(flat, outlineOf(flat)).available);
  }
  void exposureIsReadToAFiftiethOfAStop_data() {
    QTest::addColumn<double>("stops");
    for (const double s : {-1.5, -0.5, -0.04, 0.0, 0.05, 0.3, 1.0}) QTest::addRow("%g", s) << s;
  }
  // Both with their own grain, in whole steps of 8 bits, and a tenth of the picture moved in between.
  void exposureIsReadToAFiftiethOfAStop() {
    QFETCH(double, stops);
    const auto scene = [](double x, double y, int c) {
      return 0.03 + 0.25 * (0.5 + 0.5 * std::sin(x / 31 + c) * std::cos(y / 23));
    };
    const auto shot = [&](double gain, double moved, unsigned seed) {
      Raster r = made(300, 200, [&](double x, double y, int c) {
        return image::encodedFromLinear(std::min(1.0, gain * (c == 0 ? 1.1 : 1) * scene(x < 30 ? x + moved : x, y, c)));
      });
      addNoise(r, 2 / 255.0, seed);
      round8(r);
      return r;
    };
    const Raster a = shot(1 / 1.1, 0, 1), b = shot(std::exp2(stops) / 1.1, 40, 2);
    const ExposureGain gain = exposureBetween(a, b, all(a));
    QVERIFY(gain.stops.available);
    QVERIFY2(std::abs(gain.stops.value - stops) < 0.02, qPrintable(QString::number(gain.stops.value)));
    QVERIFY(std::abs(gain.red.value) < 0.02 && std::abs(gain.blue.value) < 0.02);
  }
  void stepsInSmoothSlopesAreBanding() {
    const auto slope = [](double noise) {
      Raster r = made(400, 200, [](double x, double, int) { return 0.3 + 0.1 * x / 400; });
      if (noise > 0) addNoise(r, noise, 3);
      round8(r);
      return r;
    };
    const Raster stepped = slope(0), grainy = slope(1.0 / 255);
    QVERIFY(bandingOf({stepped, all(stepped)}).value > 0.9);
    QVERIFY(bandingOf({grainy, all(grainy)}).value < 0.1);
  }
  void stepsOfTheOutlineAreJagged() {
    const auto read = [](const std::function<double(double, double)>& alpha) {
      Raster r = made(300, 300, [](double, double, int) { return 0.5; });
      for (int y = 0; y < 300; ++y) {
        for (int x = 0; x < 300; ++x) r.at(x, y)[3] = float(alpha(x + 0.5, y + 0.5));
      }
      const Reading reading = jaggednessOf(r, outlineOf(r));
      return reading.available ? reading.value : -1;
    };
    const auto far = [](double x, double y) { return 100 - std::hypot(x - 150, y - 150); };
    const double smooth = read([&](double x, double y) { return std::clamp(far(x, y) + 0.5, 0.0, 1.0); });
    const double stepped = read([&](double x, double y) { return far(x, y) > 0 ? 1.0 : 0.0; });
    const double enlarged =
        read([&](double x, double y) { return far(3 * std::floor(x / 3) + 1.5, 3 * std::floor(y / 3) + 1.5) > 0; });
    QVERIFY2(smooth >= 0 && smooth < 0.07 && stepped > 0.14 && enlarged > 0.5,
             qPrintable(QStringLiteral("%1 %2 %3").arg(smooth).arg(stepped).arg(enlarged)));
    // The same of a small mask that lies turned in the scene.
    const double turned = read([&](double x, double y) {
      const double c = std::cos(0.3), s = std::sin(0.3), u = x - 150, v = y - 150;
      const double p = 3 * std::floor((c * u + s * v) / 3) + 1.5, q = 3 * std::floor((c * v - s * u) / 3) + 1.5;
      return std::hypot(p, q) < 100 ? 1.0 : 0.0;
    });
    QVERIFY2(turned > 0.3, qPrintable(QString::number(turned)));
  }
  // As rough as the steps of a mask, but rough by nature: coverage of each px is what the line leaves of it.
  void whatIsRoughByNatureIsNotJagged() {
    Raster r = made(300, 300, [](double, double, int) { return 0.5; });
    const auto radius = [](double turn) {
      double bump = 0;
      for (int k = 0; k < 12; ++k) bump += std::sin((70 + 13 * k) * turn + 5 * k * k);
      return 100 + 0.25 * bump;
    };
    constexpr int kFine = 6;
    for (int y = 0; y < 300; ++y) {
      for (int x = 0; x < 300; ++x) {
        int inside = 0;
        for (int k = 0; k < kFine * kFine; ++k) {
          const double u = x + (k % kFine + 0.5) / kFine - 150, v = y + (k / kFine + 0.5) / kFine - 150;
          inside += std::hypot(u, v) < radius(std::atan2(v, u));
        }
        r.at(x, y)[3] = float(inside) / (kFine * kFine);
      }
    }
    const Reading reading = jaggednessOf(r, outlineOf(r));
    QVERIFY(reading.available);
    QCOMPARE(reading.value, 0.0);
  }
};

HSEAM_TEST(MeasureTest);
#include "measure_test.moc"
